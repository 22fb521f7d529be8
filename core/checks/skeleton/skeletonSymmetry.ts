import { amount, check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { NO_JOINT } from "../../model/character";
import { boneLabel } from "../../names/humanoidBones";
import { finding } from "../finding";

/**
 * Left joints against the mirror images of the right ones. Of a limb that is off as a whole only its first joint is
 * named.
 */
export const skeletonSymmetry = check({
  id: "skeleton.symmetry",
  title: "Mirrored joint positions",
  station: "skeleton",
  unit: "mm",
  measures: "left joints against the mirrored right ones; of a limb only its first joint is named",
  severity: "warn",
  limits: { "skeleton.symmetry": amount(1) },
  source: "our own choice: 1 mm",
  waitsFor: "stance and size",
  run: (character, { humanoid, limits }) => {
    const limit = limits["skeleton.symmetry"];
    const { skeleton } = character;
    if (!skeleton || !humanoid || limit === null) return [];
    const world = worldMatrices(skeleton, {});
    const off = new Map<number, number>();
    for (const [bone, left] of humanoid.jointOfBone) {
      const right = bone.startsWith("left") ? humanoid.jointOfBone.get(bone.replace("left", "right")) : undefined;
      if (right === undefined) continue;
      const [a, b] = [translationOf(world, 16 * left), translationOf(world, 16 * right)];
      const mm = 1000 * Math.hypot(a[0] + b[0], a[1] - b[1], a[2] - b[2]);
      if (mm > limit) off.set(left, mm);
    }
    const isUnderOther = (j: number): boolean => {
      for (let k = skeleton.joints[j]!.parent; k !== NO_JOINT; k = skeleton.joints[k]!.parent)
        if (off.has(k)) return true;
      return false;
    };
    return [...off]
      .filter(([j]) => !isUnderOther(j))
      .map(([j, mm]) =>
        finding({
          check: "skeleton.symmetry",
          severity: "warn",
          joint: skeleton.joints[j]!.name,
          value: mm,
          unit: "mm",
          limit,
          message:
            `${skeleton.joints[j]!.name} and its counterpart (${boneLabel(humanoid.boneOfJoint[j]!)}) ` +
            `are not mirror images: ${mm.toFixed(1)} mm apart.`,
        }),
      );
  },
});
