import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { conjugate, rotate } from "../math/quat";
import type { Character, Driver, Shape } from "../model/character";
import { UserError } from "../model/userError";
import { mirrorName, mirrorDeltas } from "../shapes/mirrorDeltas";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";

/** The driver's joint and axis on the other side; the axis is carried through the rest pose as an axial vector. */
export function mirrorDriver(character: Character, driver: Driver): Driver {
  const { skeleton } = character;
  const map = skeleton && humanoidMap(skeleton, character.jointMap);
  const joint = skeleton?.joints.findIndex((j) => j.name === driver.joint) ?? -1;
  if (!skeleton || !map || joint < 0) throw new UserError(`There is no joint named ${driver.joint}.`, driver.shape, "");
  const world = worldMatrices(skeleton, {});
  const other = mirrorJoints(skeleton, map)[joint]!;
  if (other === NO_COUNTERPART)
    throw new UserError(`The other side of ${driver.joint} is not known.`, driver.shape, "Map both joints first.");
  const from = decomposeTRS(world, 16 * joint).q;
  const to = decomposeTRS(world, 16 * other).q;
  const axis = rotate(from, driver.axis);
  return {
    ...driver,
    shape: mirrorName(driver.shape),
    joint: skeleton.joints[other]!.name,
    axis: rotate(conjugate(to), [axis[0], -axis[1], -axis[2]]).map(
      (x) => Number(x.toFixed(6)) + 0,
    ) as unknown as Driver["axis"],
  };
}

export function mirrorCorrective(
  character: Character,
  shape: Shape,
  driver: Driver,
): { shape: Shape; driver: Driver; unmatched: number } {
  const { deltas, unmatched } = mirrorDeltas(character, shape.deltas);
  return {
    shape: { name: mirrorName(shape.name), label: mirrorName(shape.label), deltas },
    driver: mirrorDriver(character, driver),
    unmatched,
  };
}
