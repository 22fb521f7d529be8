import { REST_BEND } from "../../skeleton/hinges";
import { bendAtRest } from "../../edits/mend/mendSkeleton";
import { check, fixedSpan } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { cross, degrees, dot, length, normalize, sub, type Vec3 } from "../../math/vec3";
import { boneLabel } from "../../names/humanoidBones";
import { finding } from "../finding";

const HINGES = (["left", "right"] as const).flatMap((side) => [
  { bone: `${side}LowerArm`, chain: [`${side}UpperArm`, `${side}LowerArm`, `${side}Hand`], forward: -1 },
  { bone: `${side}LowerLeg`, chain: [`${side}UpperLeg`, `${side}LowerLeg`, `${side}Foot`], forward: 1 },
]);

/**
 * Rest bend of elbows and knees: enough to say which way they fold, and the right way. Knees point forward, elbows
 * back.
 */
export const skeletonStraightHinge = check({
  id: "skeleton.straight-hinge",
  title: "Rest bend of elbows and knees",
  station: "skeleton",
  unit: "deg",
  measures: "rest bend of elbows and knees, and its direction",
  severity: "error",
  limits: { "skeleton.straight-hinge": fixedSpan(1, 15) },
  source: "common practice, no source: never a dead straight line",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      `Bends ${f.joint} a little the right way: the limb's mirror image where ` +
      `the other side is bent, else by ${REST_BEND} degrees. The mesh stays.`,
    apply: (c, f) => bendAtRest(c, f.joint!),
  },
  run: (character, { humanoid, limits }) => {
    const { skeleton } = character;
    if (!skeleton || !humanoid) return [];
    const [lo, hi] = limits["skeleton.straight-hinge"];
    const world = worldMatrices(skeleton, {});
    return HINGES.flatMap(({ bone, chain, forward }) => {
      const joints = chain.map((b) => humanoid.jointOfBone.get(b));
      if (joints.some((j) => j === undefined)) return [];
      const [a, b, c] = joints.map((j) => translationOf(world, 16 * j!)) as [Vec3, Vec3, Vec3];
      const upper = normalize(sub(b, a));
      const lower = normalize(sub(c, b));
      const bend = degrees(Math.atan2(length(cross(upper, lower)), dot(upper, lower)));
      const joint = skeleton.joints[joints[1]!]!.name;
      const make = (severity: "warn" | "error", limit: number, message: string) =>
        finding({ check: "skeleton.straight-hinge", severity, joint, value: bend, unit: "deg", limit, message });
      if (bend < lo)
        return [
          make(
            "error",
            lo,
            `The ${boneLabel(bone)} is straight at rest (${bend.toFixed(1)} degrees): ` +
              "a solver cannot tell which way it folds. Give it a bend of 3 to 5 degrees.",
          ),
        ];
      // the middle joint stands before or behind the straight line from end to end
      const along = normalize(sub(c, a));
      const off = sub(sub(b, a), [
        along[0] * dot(sub(b, a), along),
        along[1] * dot(sub(b, a), along),
        along[2] * dot(sub(b, a), along),
      ]);
      if (off[2] * forward < 0) return [make("error", lo, `The ${boneLabel(bone)} is bent the wrong way at rest.`)];
      if (bend > hi)
        return [
          make(
            "warn",
            hi,
            `The ${boneLabel(bone)} rests bent by ${bend.toFixed(1)} ` +
              `degrees; over ${hi} it no longer reads as a rest pose.`,
          ),
        ];
      return [];
    });
  },
});
