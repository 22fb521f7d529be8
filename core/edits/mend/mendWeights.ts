import { strayIslands } from "../../measure/strayIslands";
import { mainJointOf } from "../../measure/mainJoint";
import { vertexCountOf, type Character, type SkinBinding } from "../../model/character";
import { UserError } from "../../model/userError";
import { partNamed, withPart } from "./places";

function rebound(
  character: Character,
  name: string,
  change: (skin: SkinBinding, vertexCount: number) => SkinBinding,
): Character {
  const { part, index } = partNamed(character, name);
  if (!part.skin) throw new UserError(`${name} is not bound to joints.`, "mend", "");
  return withPart(character, index, { ...part, skin: change(part.skin, vertexCountOf(part)) });
}

/** Weights of every vertex scaled to a sum of 1. @throws UserError when a vertex holds nothing: then no scale helps. */
export const normalizeWeights = (character: Character, name: string): Character =>
  rebound(character, name, (skin, count) => {
    const n = skin.influenceCount;
    const weights = skin.weights.slice();
    for (let v = 0; v < count; v++) {
      let sum = 0;
      for (let k = 0; k < n; k++) sum += weights[n * v + k]!;
      if (sum <= 0)
        throw new UserError(`Vertex ${v} of ${name} has no weight at all.`, "mend", "Bind it to a joint first.");
      for (let k = 0; k < n; k++) weights[n * v + k]! /= sum;
    }
    return { ...skin, weights };
  });

/** The heaviest joints of each vertex, the first of equals; the rest is given to them in proportion. */
export const limitInfluences = (character: Character, name: string, most: number): Character =>
  rebound(character, name, (skin, count) => {
    const n = skin.influenceCount;
    const kept = Math.min(n, Math.max(1, Math.floor(most)));
    const joints = new Uint16Array(kept * count);
    const weights = new Float32Array(kept * count);
    for (let v = 0; v < count; v++) {
      const order = Array.from({ length: n }, (_, k) => n * v + k)
        .sort((a, b) => skin.weights[b]! - skin.weights[a]! || a - b)
        .slice(0, kept);
      const total = order.reduce((sum, i) => sum + skin.weights[i]!, 0);
      order.forEach((i, k) => {
        joints[kept * v + k] = skin.joints[i]!;
        weights[kept * v + k] = total > 0 ? skin.weights[i]! / total : 0;
      });
    }
    return { ...skin, influenceCount: kept, joints, weights };
  });

/** All of a part on one joint; a part that was not bound is bound so. */
export function bindAllTo(character: Character, name: string, joint: number): Character {
  const { part, index } = partNamed(character, name);
  const count = vertexCountOf(part);
  return withPart(character, index, {
    ...part,
    skin: {
      influenceCount: 1,
      joints: new Uint16Array(count).fill(joint),
      weights: new Float32Array(count).fill(1),
      inverseBinds: part.skin?.inverseBinds ?? null,
    },
  });
}

/** All of a part on the joint that holds most of it. */
export const bindRigidly = (character: Character, name: string): Character =>
  bindAllTo(character, name, mainJointOf(partNamed(character, name).part));

/**
 * Vertices of stray islands take the weights of the nearest vertex of the part that is in none; those that hang there
 * by little only lose that weight, and the others are scaled to 1.
 */
export function reclaimStray(character: Character, name: string, jointName: string): Character {
  const { part, index } = partNamed(character, name);
  const joint = character.skeleton?.joints.findIndex((j) => j.name === jointName) ?? -1;
  const islands = strayIslands(character).filter((i) => i.part === index && i.joint === joint);
  const astray = new Set(islands.filter((i) => !i.slight).flatMap((i) => i.vertices));
  const slight = islands
    .filter((i) => i.slight)
    .flatMap((i) => i.vertices)
    .filter((v) => !astray.has(v));
  if (!astray.size && !slight.length)
    throw new UserError(`No vertex of ${name} hangs astray on ${jointName}.`, "mend", "");
  return rebound(character, name, (skin, count) => {
    const n = skin.influenceCount;
    const joints = skin.joints.slice();
    const weights = skin.weights.slice();
    const P = part.positions;
    const home = Array.from({ length: count }, (_, v) => v).filter((v) => !astray.has(v));
    for (const v of astray) {
      const distance = (w: number): number =>
        (P[3 * w]! - P[3 * v]!) ** 2 + (P[3 * w + 1]! - P[3 * v + 1]!) ** 2 + (P[3 * w + 2]! - P[3 * v + 2]!) ** 2;
      const nearest = home.reduce((best, w) => (distance(w) < distance(best) ? w : best));
      joints.set(skin.joints.subarray(n * nearest, n * nearest + n), n * v);
      weights.set(skin.weights.subarray(n * nearest, n * nearest + n), n * v);
    }
    for (const v of slight) {
      let others = 0;
      for (let i = n * v; i < n * v + n; i++) if (joints[i] !== joint) others += weights[i]!;
      if (others > 0)
        for (let i = n * v; i < n * v + n; i++) weights[i] = joints[i] === joint ? 0 : weights[i]! / others;
    }
    return { ...skin, joints, weights };
  });
}
