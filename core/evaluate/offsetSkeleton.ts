import { add, scale, sub, type Vec3 } from "../math/vec3";
import { composeTRS, invertAffine, multiplyMat4, translationOf } from "../math/mat4";
import { jointIndexOf } from "../model/jointIndex";
import { NO_JOINT, type Character, type Skeleton } from "../model/character";
import { worldMatrices } from "./poseSkeleton";

/**
 * How far shapes at their weights move each joint's rest place: 3 x jointCount, metres, bind space; null when no active
 * shape moves any.
 */
export function jointOffsets({ skeleton, shapes }: Character, weights: ArrayLike<number>): Float64Array | null {
  if (!skeleton) return null;
  let out: Float64Array | null = null;
  const index = jointIndexOf(skeleton);
  shapes.forEach((shape, s) => {
    if (!shape.jointOffsets || weights[s] === 0) return;
    out ??= new Float64Array(3 * skeleton.joints.length);
    for (const { joint, offset } of shape.jointOffsets) {
      const j = index.get(joint);
      if (j !== undefined) for (let c = 0; c < 3; c++) out[3 * j + c]! += weights[s]! * offset[c]!;
    }
  });
  return out;
}

/**
 * The skeleton with its joints' rest places moved; every joint keeps the direction of its frame. Both the rest pose and
 * the bind go along, so that at rest nothing moves but what the shapes move.
 * @param offsets 3 x jointCount, metres, bind space.
 */
export function offsetSkeleton(skeleton: Skeleton, offsets: Float64Array): Skeleton {
  const world = worldMatrices(skeleton, {});
  const moved = skeleton.joints.map((_, j): Vec3 =>
    add(translationOf(world, 16 * j), [offsets[3 * j]!, offsets[3 * j + 1]!, offsets[3 * j + 2]!]),
  );
  const inverse = new Float64Array(16);
  const joints = skeleton.joints.map((joint, j) => {
    if (joint.parent === NO_JOINT) return { ...joint, translation: moved[j]! };
    invertAffine(inverse, 0, world, 16 * joint.parent);
    // the direction to the parent in the parent's frame; its own translation has no part in it
    const d = sub(moved[j]!, moved[joint.parent]!);
    const translation = [0, 1, 2].map(
      (r) => inverse[r]! * d[0] + inverse[4 + r]! * d[1] + inverse[8 + r]! * d[2],
    ) as unknown as Vec3;
    return { ...joint, translation };
  });
  return { ...skeleton, joints, inverseBinds: offsetBinds(skeleton.inverseBinds, offsets) };
}

/**
 * Inverse bind matrices of joints bound `offsets` away from where they were: inverse bind x translation by the negative
 * offset.
 */
export function offsetBinds(inverseBinds: Float32Array, offsets: Float64Array): Float32Array {
  const out = new Float32Array(inverseBinds.length);
  const shift = new Float64Array(16);
  const m = new Float64Array(16);
  for (let j = 0; j < offsets.length / 3; j++) {
    composeTRS(
      shift,
      0,
      scale([offsets[3 * j]!, offsets[3 * j + 1]!, offsets[3 * j + 2]!], -1),
      [0, 0, 0, 1],
      [1, 1, 1],
    );
    multiplyMat4(m, 0, inverseBinds, 16 * j, shift, 0);
    out.set(m, 16 * j);
  }
  return out;
}
