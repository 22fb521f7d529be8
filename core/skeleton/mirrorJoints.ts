import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import type { Skeleton } from "../model/character";
import { mirrorBone, sideOfBone } from "../names/humanoidBones";
import type { HumanoidMap } from "./humanoidMap";
import { swapSide } from "../names/nameWords";

/** A joint's mirrored place may be missed by this share of the figure's height. */
const NEAR = 0.006;
export const NO_COUNTERPART = -1;

/**
 * The joint of the other side for every joint, itself on the midline, NO_COUNTERPART where none is known: by the joint
 * map, by the word of the side in its name, by where it stands at rest.
 */
export function mirrorJoints(skeleton: Skeleton, map: HumanoidMap): Int32Array {
  const world = worldMatrices(skeleton, {});
  const place = skeleton.joints.map((_, j) => translationOf(world, 16 * j));
  const heights = place.map((p) => p[1]);
  const near = NEAR * Math.max(1e-6, Math.max(...heights) - Math.min(...heights));
  const byName = new Map(skeleton.joints.map((j, i) => [j.name, i]));
  return Int32Array.from(skeleton.joints, (joint, j) => {
    const bone = map.boneOfJoint[j];
    if (bone) return sideOfBone(bone) ? (map.jointOfBone.get(mirrorBone(bone)) ?? NO_COUNTERPART) : j;
    const swapped = swapSide(joint.name);
    if (swapped !== null && byName.has(swapped)) return byName.get(swapped)!;
    const [x, y, z] = place[j]!;
    const off = (k: number): number => Math.hypot(place[k]![0] + x, place[k]![1] - y, place[k]![2] - z);
    if (Math.abs(x) < near && swapped === null) return j;
    const nearest = place.reduce((best, _, k) => (off(k) < off(best) ? k : best), 0);
    return off(nearest) < near ? nearest : NO_COUNTERPART;
  });
}
