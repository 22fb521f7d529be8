import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { conjugate, rotate } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import { changedDriver, changedSamples } from "../model/changeDrivers";
import { UNCHANGED, type JointChange } from "../model/terms/jointChange";
import type { Character, Driver, Shape } from "../model/character";
import { kindOf } from "../model/terms/driverTerms";
import type { PoseDriver, SampleSet } from "../model/poseDriver";
import { UserError } from "../model/userError";
import { mirrorName, mirrorDeltas } from "../shapes/mirrorDeltas";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";

const exact = (v: Vec3): Vec3 => v.map((x) => Number(x.toFixed(6)) + 0) as unknown as Vec3;

/**
 * How what drivers read at a joint looks at its counterpart over x = 0, through the rest pose: axes as axial vectors,
 * directions as plain ones. A joint of the middle is its own counterpart.
 * @throws UserError where a joint or its other side is not known.
 */
function mirrored(character: Character, forWhat: string): (joint: string) => JointChange {
  const { skeleton } = character;
  const map = skeleton && humanoidMap(skeleton, character.jointMap);
  if (!skeleton || !map) throw new UserError("There is no skeleton.", forWhat, "");
  const world = worldMatrices(skeleton, {});
  const others = mirrorJoints(skeleton, map);
  return (name) => {
    const joint = skeleton.joints.findIndex((j) => j.name === name);
    if (joint < 0) throw new UserError(`There is no joint named ${name}.`, forWhat, "");
    const other = others[joint]!;
    if (other === NO_COUNTERPART)
      throw new UserError(`The other side of ${name} is not known.`, forWhat, "Map both joints first.");
    const from = decomposeTRS(world, 16 * joint).q;
    const back = conjugate(decomposeTRS(world, 16 * other).q);
    const axis = (v: Vec3): Vec3 => {
      const [x, y, z] = rotate(from, v);
      return exact(rotate(back, [x, -y, -z]));
    };
    const direction = (v: Vec3): Vec3 => {
      const [x, y, z] = rotate(from, v);
      return exact(rotate(back, [-x, y, z]));
    };
    const turn = (q: Quat): Quat => {
      const [x, y, z] = rotate(from, [q[0], q[1], q[2]]);
      return [...rotate(back, [x, -y, -z]), q[3]];
    };
    return { ...UNCHANGED, joint: skeleton.joints[other]!.name, axis, along: direction, towards: direction, turn };
  };
}

/** The driver's joint and axis on the other side; the axis is carried through the rest pose as an axial vector. */
export function mirrorDriver(character: Character, driver: Driver): Driver {
  const { joint, axis } = mirrored(character, driver.shape)(driver.joint);
  return { ...driver, shape: mirrorName(driver.shape), joint, axis: axis(driver.axis) };
}

/** A driver of readings on the other side; shapes that it reads are those of the other side where there are some. */
export function mirrorPoseDriver(character: Character, driver: PoseDriver): PoseDriver {
  const there = new Set(character.shapes.map((s) => s.name));
  const shape = (name: string): string => (there.has(mirrorName(name)) ? mirrorName(name) : name);
  const turned = changedDriver(driver, mirrored(character, driver.shape));
  return { ...turned, shape: mirrorName(driver.shape), terms: turned.terms.map((t) => kindOf(t).renamed(t, shape)) };
}

/** Sampled poses on the other side, their shapes named for it. */
export const mirrorSamples = (character: Character, set: SampleSet): SampleSet => {
  const turned = changedSamples(set, mirrored(character, set.name));
  return {
    ...turned,
    name: mirrorName(set.name),
    samples: turned.samples.map((s) => ({
      ...s,
      name: mirrorName(s.name),
      shape: s.shape === null ? null : mirrorName(s.shape),
    })),
  };
};

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
