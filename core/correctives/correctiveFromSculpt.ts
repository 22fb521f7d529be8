import { deform, withShapes, type Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import type { Character, Shape, ShapeDelta } from "../model/character";
import { INVERSE_SKIN_DEFAULTS, inverseSkin, type InverseSkinOptions } from "./inverseSkin";

/** Smaller differences than this are rounding of files, not sculpting (metres). */
const ROUNDING = 2e-6;

export interface ReturnedSculpt {
  readonly deltas: ShapeDelta[];
  /** Vertices that their own skinning squashes too far to be inverted; their movement is damped. */
  readonly ill: readonly { readonly part: number; readonly vertices: Uint32Array }[];
  /** Distance between the sculpt and the corrective posed again, mm, over the sculpted vertices. */
  readonly residual: { readonly max: number; readonly rms: number };
}

/**
 * Returns a sculpt made in a pose to the rest pose.
 * @param sculpt per part 3 x vertexCount, metres, character space, or null for parts that were not sculpted.
 * @param moment the pose and shapes it was sculpted in, drivers included when they were on.
 */
export function correctiveFromSculpt(
  rig: Rig,
  moment: Moment,
  sculpt: readonly (Float32Array | null)[],
  options: InverseSkinOptions = INVERSE_SKIN_DEFAULTS,
): ReturnedSculpt {
  const posed = deform(rig, moment, { normals: false });
  const deltas: ShapeDelta[] = [];
  const ill: { part: number; vertices: Uint32Array }[] = [];
  sculpt.forEach((target, part) => {
    if (!target) return;
    const P = posed.positions[part]!;
    const difference = new Float32Array(P.length);
    const moved: number[] = [];
    for (let v = 0; v < P.length / 3; v++) {
      const d = [0, 1, 2].map((k) => target[3 * v + k]! - P[3 * v + k]!);
      if (Math.hypot(...d) <= ROUNDING) continue;
      difference.set(d, 3 * v);
      moved.push(v);
    }
    if (moved.length === 0) return;
    const skin = rig.character.parts[part]!.skin;
    const rest = inverseSkin(difference, skin, posed.matrices[part] ?? null, moment.method, options);
    if (rest.ill.length) ill.push({ part, vertices: rest.ill });
    const values = new Float32Array(3 * moved.length);
    moved.forEach((v, k) => values.set(rest.deltas.subarray(3 * v, 3 * v + 3), 3 * k));
    deltas.push({ part, vertices: Uint32Array.from(moved), deltas: values });
  });
  return { deltas, ill, residual: residualOf(rig, moment, deltas, sculpt) };
}

/** Name of a sculpt's shape before it is kept. */
export const TRIAL = "\u0000sculpt";

/** The character with one more shape, for looking at a sculpt before it is kept. */
export const withTrialShape = (character: Character, deltas: readonly ShapeDelta[], name = TRIAL): Character => ({
  ...character,
  shapes: [...character.shapes, { name, label: name, deltas } satisfies Shape],
});

function residualOf(
  rig: Rig,
  moment: Moment,
  deltas: readonly ShapeDelta[],
  sculpt: readonly (Float32Array | null)[],
): { max: number; rms: number } {
  const again = deform(
    withShapes(rig, withTrialShape(rig.character, deltas)),
    { ...moment, weights: { ...moment.weights, [TRIAL]: 1 } },
    { normals: false },
  );
  let max = 0;
  let sum = 0;
  let count = 0;
  for (const { part, vertices } of deltas)
    for (const v of vertices) {
      const e =
        1000 * Math.hypot(...[0, 1, 2].map((k) => again.positions[part]![3 * v + k]! - sculpt[part]![3 * v + k]!));
      max = Math.max(max, e);
      sum += e * e;
      count++;
    }
  return { max, rms: count ? Math.sqrt(sum / count) : 0 };
}
