import { straightenFrame } from "../../edits/mend/mendSkeleton";
import { amount, check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { cross, degrees, dot, length, normalize, sub, type Vec3 } from "../../math/vec3";
import { boneLabel } from "../../names/humanoidBones";
import { finding } from "../finding";

export const HINGE_CHAINS = (["left", "right"] as const).flatMap((side) => [
  [`${side}UpperArm`, `${side}LowerArm`, `${side}Hand`] as const,
  [`${side}UpperLeg`, `${side}LowerLeg`, `${side}Foot`] as const,
]);
/** A straighter limb than this has no plane of its own, degrees. */
const PLANE_FROM = 1.5;

/**
 * Angle in degrees between a hinge's axis (the frame axis nearest to the limb plane's normal) and that normal; null
 * where the limb is too straight to say.
 */
export function hingeAxisError(world: ArrayLike<number>, chain: readonly [number, number, number]): number | null {
  const [a, b, c] = chain.map((j) => translationOf(world as Float64Array, 16 * j)) as [Vec3, Vec3, Vec3];
  const [upper, lower] = [normalize(sub(b, a)), normalize(sub(c, b))];
  const normal = cross(upper, lower);
  if (degrees(Math.asin(Math.min(1, length(normal)))) < PLANE_FROM) return null;
  const n = normalize(normal);
  const axes = [0, 1, 2].map((k) =>
    normalize([world[16 * chain[1] + 4 * k]!, world[16 * chain[1] + 4 * k + 1]!, world[16 * chain[1] + 4 * k + 2]!]),
  );
  const best = Math.max(...axes.map((axis) => Math.abs(dot(axis, n))));
  return degrees(Math.acos(Math.min(1, best)));
}

/** Hinge axes of elbows and knees against the plane of their limb. */
export const skeletonHingeAxis = check({
  id: "skeleton.hinge-axis",
  title: "Hinge axes of elbows and knees",
  station: "skeleton",
  unit: "deg",
  measures: "angle between a hinge's frame axis and the normal of its limb's plane",
  severity: "warn",
  limits: { "skeleton.hinge-axis": amount(5) },
  source: "our own choice: 5 degrees",
  mend: {
    says: (f) => `Turns the frame of ${f.joint} square to the plane of its limb; clips and drivers go along.`,
    apply: (c, f) => straightenFrame(c, f.joint!),
  },
  run: (character, { humanoid, limits }) => {
    const limit = limits["skeleton.hinge-axis"];
    const { skeleton } = character;
    if (!skeleton || !humanoid || limit === null) return [];
    const world = worldMatrices(skeleton, {});
    return HINGE_CHAINS.flatMap((bones) => {
      const joints = bones.map((b) => humanoid.jointOfBone.get(b));
      if (joints.some((j) => j === undefined)) return [];
      const off = hingeAxisError(world, joints as unknown as readonly [number, number, number]);
      if (off === null || off <= limit) return [];
      return [
        finding({
          check: "skeleton.hinge-axis",
          severity: "warn",
          joint: skeleton.joints[joints[1]!]!.name,
          value: off,
          unit: "deg",
          limit,
          message:
            `The hinge of the ${boneLabel(bones[1])} stands ${off.toFixed(1)} degrees off ` +
            "the limb's plane: bending swings the limb sideways. Turn the joint's frame.",
        }),
      ];
    });
  },
});
