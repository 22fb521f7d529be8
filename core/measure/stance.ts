import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { add, dot, length, normalize, scale, sub, type Vec3 } from "../math/vec3";
import type { Character, Part } from "../model/character";
import { AXES, AXIS_VECTORS, type Axis } from "../model/axes";
import type { HumanoidMap } from "../skeleton/humanoidMap";

/** Which axes of the file point to the figure's crown and out of its face. */
export interface Stance {
  readonly up: Axis;
  readonly front: Axis;
}

/** A direction must lie this near to an axis to be told, cosine. */
const NEAR = 0.75;

/**
 * How a figure stands in its file, from what can only be one way round: the head over the hips, eyes and teeth at the
 * front of the head, toes before ankles.
 * Names of sides are not asked. Null when the figure does not tell, or says two things.
 */
export function stanceOf(character: Character, humanoid: HumanoidMap | null): Stance | null {
  const up = axisOf(upOf(character, humanoid));
  if (!up) return null;
  const along = AXIS_VECTORS[up];
  const flat = (v: Vec3): Vec3 => sub(v, scale(along, dot(v, along)));
  const votes = frontsOf(character, humanoid, along)
    .map(flat)
    .filter((v) => length(v) > 1e-6)
    .map(normalize);
  const sum = votes.reduce(add, [0, 0, 0] as Vec3);
  // votes that pull apart say nothing
  if (votes.length === 0 || length(sum) < 0.6 * votes.length) return null;
  const front = axisOf(sum);
  return front && front[1] !== up[1] ? { up, front } : null;
}

function axisOf(direction: Vec3 | null): Axis | null {
  if (!direction || length(direction) < 1e-9) return null;
  const d = normalize(direction);
  const best = AXES.reduce((a, b) => (dot(AXIS_VECTORS[b], d) > dot(AXIS_VECTORS[a], d) ? b : a));
  return dot(AXIS_VECTORS[best], d) > NEAR ? best : null;
}

/** From the hips to the head by the joints; without them from the middle of the skin to the eyes, teeth and hair. */
function upOf(character: Character, humanoid: HumanoidMap | null): Vec3 | null {
  const { skeleton } = character;
  const [hips, head] = [humanoid?.jointOfBone.get("hips"), humanoid?.jointOfBone.get("head")];
  if (skeleton && hips !== undefined && head !== undefined) {
    const world = worldMatrices(skeleton, {});
    return sub(translationOf(world, 16 * head), translationOf(world, 16 * hips));
  }
  const features = character.parts.filter((p) => ["eye", "teeth", "hair", "brow", "lash"].includes(p.kind));
  const body = bodyOf(character);
  return features.length && body ? sub(middle(features), middle([body])) : null;
}

/** Directions that each speak for the front. */
function frontsOf(character: Character, humanoid: HumanoidMap | null, up: Vec3): Vec3[] {
  const out: Vec3[] = [];
  const { skeleton } = character;
  if (skeleton && humanoid) {
    const world = worldMatrices(skeleton, {});
    const at = (bone: string): Vec3 | null =>
      humanoid.jointOfBone.has(bone) ? translationOf(world, 16 * humanoid.jointOfBone.get(bone)!) : null;
    for (const side of ["left", "right"]) {
      const [foot, toes] = [at(`${side}Foot`), at(`${side}Toes`)];
      if (foot && toes) out.push(sub(toes, foot));
    }
  }
  // eyes and teeth against the skin at their height
  const body = bodyOf(character);
  for (const kind of ["eye", "teeth"] as const) {
    const parts = character.parts.filter((p) => p.kind === kind);
    if (!parts.length || !body) continue;
    const centre = middle(parts);
    const level = dot(centre, up);
    const reach = 0.02 * spanAlong(body, up);
    const around: Vec3[] = [];
    for (let v = 0; v < body.positions.length; v += 3) {
      const p: Vec3 = [body.positions[v]!, body.positions[v + 1]!, body.positions[v + 2]!];
      if (Math.abs(dot(p, up) - level) < reach) around.push(p);
    }
    if (around.length > 8) out.push(sub(centre, boxMiddle(around)));
  }
  return out;
}

/** The largest part of kind body. */
const bodyOf = (character: Character): Part | undefined =>
  character.parts.filter((p) => p.kind === "body").sort((a, b) => b.positions.length - a.positions.length)[0];

function middle(parts: readonly Part[]): Vec3 {
  let [n, sum] = [0, [0, 0, 0] as Vec3];
  for (const { positions } of parts)
    for (let v = 0; v < positions.length; v += 3) {
      sum = [sum[0] + positions[v]!, sum[1] + positions[v + 1]!, sum[2] + positions[v + 2]!];
      n++;
    }
  return scale(sum, 1 / Math.max(1, n));
}

function boxMiddle(points: readonly Vec3[]): Vec3 {
  return [0, 1, 2].map((k) => {
    let [lo, hi] = [Infinity, -Infinity];
    for (const p of points) [lo, hi] = [Math.min(lo, p[k]!), Math.max(hi, p[k]!)];
    return (lo + hi) / 2;
  }) as unknown as Vec3;
}

/** Extent of a part along a direction. */
export function spanAlong({ positions }: Part, along: Vec3): number {
  let [lo, hi] = [Infinity, -Infinity];
  for (let v = 0; v < positions.length; v += 3) {
    const d = positions[v]! * along[0] + positions[v + 1]! * along[1] + positions[v + 2]! * along[2];
    [lo, hi] = [Math.min(lo, d), Math.max(hi, d)];
  }
  return hi > lo ? hi - lo : 0;
}
