import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { conjugate, rotate } from "../math/quat";
import type { Character, Driver, Shape, ShapeDelta } from "../model/character";
import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";
import { UserError } from "../model/userError";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";

/** A name with its side word exchanged, or with "mirrored" behind it when it has none. */
export function mirrorName(name: string): string {
  const swapped = name.replace(/left|right/gi, (w) => {
    const other = w.toLowerCase() === "left" ? "right" : "left";
    return w[0] === w[0]!.toUpperCase() ? other[0]!.toUpperCase() + other.slice(1) : other;
  });
  return swapped === name ? `${name} mirrored` : swapped;
}

/** Movement mirrored at x = 0, vertex by vertex within each part, and across parts named for the other side. */
export function mirrorDeltas(
  character: Character,
  deltas: readonly ShapeDelta[],
): { deltas: ShapeDelta[]; unmatched: number } {
  let unmatched = 0;
  const out = deltas.map((delta): ShapeDelta => {
    const part = character.parts[delta.part]!;
    const other = character.parts.findIndex(
      (p) => p.name === mirrorName(part.name) && p.positions.length === part.positions.length,
    );
    const map = other >= 0 ? null : mirrorMap(part.positions);
    const vertices: number[] = [];
    const values: number[] = [];
    delta.vertices.forEach((v, k) => {
      const m = map ? map[v]! : v;
      if (m === NO_MIRROR) return void unmatched++;
      vertices.push(m);
      values.push(-delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!);
    });
    return {
      part: other >= 0 ? other : delta.part,
      vertices: Uint32Array.from(vertices),
      deltas: Float32Array.from(values),
    };
  });
  return { deltas: out, unmatched };
}

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
