import { NO_JOINT, type Skeleton } from "../model/character";
import type { HumanoidMap } from "../skeleton/humanoidMap";

/** Where the turn of one joint of a chain comes from: between two joints of the other skeleton. */
export interface Share {
  readonly a: number;
  readonly b: number;
  /** 0 takes the turn of `a`, 1 that of `b`. */
  readonly t: number;
}

/** Joints from one to another down the tree, both left out; null where the second does not hang under the first. */
function between(skeleton: Skeleton, above: number, below: number): number[] | null {
  const path: number[] = [];
  for (let j = skeleton.joints[below]!.parent; j !== above; j = skeleton.joints[j]!.parent) {
    if (j === NO_JOINT) return null;
    path.unshift(j);
  }
  return path;
}

const first = (map: HumanoidMap, bones: readonly string[]): number | undefined =>
  bones.map((b) => map.jointOfBone.get(b)).find((j) => j !== undefined);

/** Chains that may have more or fewer joints elsewhere: what they start at, and the first of these that ends them. */
const CHAINS: readonly (readonly [readonly string[], readonly string[]])[] = [
  [["hips"], ["neck", "head"]],
  [["neck"], ["head"]],
];

/**
 * Joints of the trunk and neck: each takes the turn of the place along the other's chain where it stands along its own,
 * so that the ends of both turn alike whatever the number of joints; of chains of one length each takes its
 * counterpart's.
 */
export function sharedChains(
  own: { readonly skeleton: Skeleton; readonly map: HumanoidMap },
  other: { readonly skeleton: Skeleton; readonly map: HumanoidMap },
): Map<number, Share> {
  const out = new Map<number, Share>();
  for (const [starts, ends] of CHAINS) {
    const end = ends.find((e) => own.map.jointOfBone.has(e) && other.map.jointOfBone.has(e));
    const [a, b] = [first(own.map, starts), first(other.map, starts)];
    if (!end || a === undefined || b === undefined) continue;
    const mine = between(own.skeleton, a, own.map.jointOfBone.get(end)!);
    const theirs = between(other.skeleton, b, other.map.jointOfBone.get(end)!);
    if (!mine?.length || !theirs) continue;
    // the chain of the other from what it starts at: index 0 stands for the start itself
    const chain = [b, ...theirs];
    mine.forEach((joint, i) => {
      const at = ((i + 1) / mine.length) * theirs.length;
      const low = Math.min(chain.length - 1, Math.floor(at + 1e-9));
      const t = Math.max(0, at - low);
      out.set(joint, { a: chain[low]!, b: chain[Math.min(chain.length - 1, low + 1)]!, t: t < 1e-6 ? 0 : t });
    });
  }
  return out;
}

/**
 * Joints that only roll: on the way from a limb's bone to the next, mapped to nothing. By joint, the bone above and the
 * bone below.
 */
export function rollJoints(skeleton: Skeleton, map: HumanoidMap): Map<number, { above: number; below: number }> {
  const out = new Map<number, { above: number; below: number }>();
  for (const side of ["left", "right"])
    for (const [from, to] of [
      ["UpperArm", "LowerArm"],
      ["LowerArm", "Hand"],
      ["UpperLeg", "LowerLeg"],
      ["LowerLeg", "Foot"],
    ]) {
      const [above, below] = [map.jointOfBone.get(side + from), map.jointOfBone.get(side + to)];
      if (above === undefined || below === undefined) continue;
      for (const joint of between(skeleton, above, below) ?? []) out.set(joint, { above, below });
    }
  return out;
}
