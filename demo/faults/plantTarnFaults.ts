import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { decomposeTRS } from "../../core/math/mat4";
import { conjugate, fromAxisAngle, multiplyQuat } from "../../core/math/quat";
import { vertexCountOf, type Character, type Part, type Skeleton, type SkinBinding } from "../../core/model/character";
import { neighboursOf } from "../../core/model/neighbours";

/**
 * How far the arms of the skeleton were raised after the mesh was bound: from 40 degrees below the horizontal to it.
 */
export const RAISED_DEGREES = 40;
const INFLUENCES = 8;
/** Share of each vertex's weight that was spread over its neighbours' joints. */
const SPREAD = 0.06;

/**
 * Tarn as he arrives: his skeleton stands at T while his mesh stands at A, his skin follows up to eight joints, and he
 * has no shapes.
 */
export function plantTarnFaults(clean: Character): Character {
  return {
    ...clean,
    skeleton: atT(clean.skeleton!),
    parts: clean.parts.map((p) => (p.kind === "body" ? withEightInfluences(p) : p)),
    shapes: [],
    clips: [],
  };
}

/** Raises both arms; the inverse bind matrices stay those of the mesh. */
function atT(skeleton: Skeleton): Skeleton {
  const world = worldMatrices(skeleton, {});
  return {
    ...skeleton,
    joints: skeleton.joints.map((joint) => {
      const side = joint.name === "leftUpperArm" ? 1 : joint.name === "rightUpperArm" ? -1 : 0;
      if (side === 0) return joint;
      // the turn is about the world's z, the joint's rotation is told in its parent's frame
      const parent = decomposeTRS(world, 16 * joint.parent).q;
      const turn = fromAxisAngle([0, 0, 1], side * RAISED_DEGREES);
      return {
        ...joint,
        rotation: multiplyQuat(multiplyQuat(multiplyQuat(conjugate(parent), turn), parent), joint.rotation),
      };
    }),
  };
}

/** Spreads a little of every vertex's weight over the joints of its neighbours, up to eight in all. */
function withEightInfluences(part: Part): Part {
  const skin = part.skin!;
  const n = skin.influenceCount;
  const count = vertexCountOf(part);
  const { start, list } = neighboursOf(part);
  const ring = (v: number): number[] => Array.from(list.subarray(start[v]!, start[v + 1]!));
  const joints = new Uint16Array(INFLUENCES * count);
  const weights = new Float32Array(INFLUENCES * count);
  for (let v = 0; v < count; v++) {
    const own = new Map<number, number>();
    const add = (from: number, share: number): void => {
      for (let k = 0; k < n; k++)
        if (skin.weights[n * from + k]! > 0)
          own.set(
            skin.joints[n * from + k]!,
            (own.get(skin.joints[n * from + k]!) ?? 0) + share * skin.weights[n * from + k]!,
          );
    };
    const near = [...new Set(ring(v).flatMap((w) => [w, ...ring(w)]))].filter((w) => w !== v);
    add(v, 1 - SPREAD);
    for (const w of near) add(w, SPREAD / near.length);
    const kept = [...own].sort((a, b) => b[1] - a[1] || a[0] - b[0]).slice(0, INFLUENCES);
    const total = kept.reduce((sum, [, w]) => sum + w, 0);
    kept.forEach(([joint, w], k) => {
      joints[INFLUENCES * v + k] = joint;
      weights[INFLUENCES * v + k] = w / total;
    });
  }
  return { ...part, skin: { ...skin, influenceCount: INFLUENCES, joints, weights } satisfies SkinBinding };
}
