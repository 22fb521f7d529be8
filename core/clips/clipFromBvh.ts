import { bvhMove, bvhTurn, type Bvh } from "../formats/bvh/readBvh";
import type { Character, Joint, Skeleton } from "../model/character";
import { carryClip, type CarriedClip } from "./carryClip";

/** The file's joints as a skeleton, in its own unit: frames along the axes of space. */
const skeletonOf = (bvh: Bvh): Skeleton => ({
  joints: bvh.joints.map((j): Joint => ({
    name: j.name,
    parent: j.parent,
    translation: j.offset,
    rotation: [0, 0, 0, 1],
    scale: [1, 1, 1],
  })),
  inverseBinds: new Float32Array(16 * bvh.joints.length),
  inSkin: new Uint8Array(bvh.joints.length).fill(1),
});

/**
 * A BVH clip on the character's joints (carryClip). What the channels of a position say stands instead of the offset.
 * @throws UserError when nothing fits.
 */
export function clipFromBvh(character: Character, bvh: Bvh, name: string): CarriedClip {
  const skeleton = skeletonOf(bvh);
  return carryClip(
    character,
    {
      skeleton,
      times: Float32Array.from({ length: bvh.frames }, (_, f) => f * bvh.frameSeconds),
      sample: (f) =>
        skeleton.joints.map((joint, j) => ({
          translation: bvhMove(bvh, bvh.joints[j]!, f) ?? joint.translation,
          rotation: bvhTurn(bvh, bvh.joints[j]!, f),
          scale: joint.scale,
        })),
    },
    name,
  );
}
