import { restToBind } from "../../skeleton/restToBind";
import { amount, check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { decomposeTRS, invertAffine, multiplyMat4, translationOf } from "../../math/mat4";
import { degrees, length, normalize, sub } from "../../math/vec3";
import type { HumanoidMap } from "../../skeleton/humanoidMap";
import { finding, type Finding } from "../finding";

/** How the left arm stands, by its angle under level: the trade's words for rest poses. */
function armStance(humanoid: HumanoidMap | null, world: Float64Array): string | null {
  const [a, b] = ["leftUpperArm", "leftLowerArm"].map((bone) => humanoid?.jointOfBone.get(bone));
  if (a === undefined || b === undefined) return null;
  const d = normalize(sub(translationOf(world, 16 * b), translationOf(world, 16 * a)));
  const below = degrees(Math.asin(-d[1]));
  if (below < 18 && below > -30) return "at T";
  if (below >= 70) return "with hanging arms";
  return below > 0 ? "at A" : "with raised arms";
}

/** Rest pose of each joint against its inverse bind matrix: world x inverse bind should be the identity. */
export const skeletonRestBind = check({
  id: "skeleton.rest-bind",
  title: "Rest pose against bind pose",
  station: "skeleton",
  unit: "deg",
  measures:
    "rest pose of joints against their inverse bind matrices; the stances of skeleton " +
    "and mesh are named (T, A, hanging), and all joints are one row with one mend",
  severity: "error",
  limits: { "skeleton.rest-bind.degrees": amount(0.1), "skeleton.rest-bind.mm": amount(0.1) },
  source: "our own choice: 0.1 degrees, 0.1 mm",
  oneCause: (all) => {
    const stances = all.map((f) => /the skeleton stands .* \(.*\)/.exec(f.message)?.[0]).find(Boolean);
    const worst = all.reduce((most, f) => (f.unit === "deg" && (f.value ?? 0) > most ? f.value! : most), 0);
    const by = worst ? `, by up to ${worst.toFixed(0)} degrees` : "";
    const how = stances ? `: ${stances.replace(/ \(.*\)$/, "")}` : "";
    return `${all.length} joints rest elsewhere than they were bound${by}${how}.`;
  },
  mend: {
    says: () =>
      "Sets every joint back to where it was bound, so that the skeleton " +
      "stands in the pose of the mesh. Mesh, weights and clips stay.",
    apply: (c) => restToBind(c),
  },
  run: (character, { limits, humanoid }) => {
    const { skeleton } = character;
    const maxDegrees = limits["skeleton.rest-bind.degrees"];
    const maxMm = limits["skeleton.rest-bind.mm"];
    if (!skeleton || maxDegrees === null || maxMm === null) return [];
    const world = worldMatrices(skeleton, {});
    const m = new Float64Array(16);
    const out: Finding[] = [];
    const wide = new Set<string>();
    skeleton.joints.forEach((joint, j) => {
      if (!skeleton.inSkin[j]) return;
      multiplyMat4(m, 0, world, 16 * j, skeleton.inverseBinds, 16 * j);
      const { q } = decomposeTRS(m, 0);
      const deg = degrees(2 * Math.atan2(Math.hypot(q[0], q[1], q[2]), Math.abs(q[3])));
      // how far the joint's own place moves, not the origin's
      const origin = [world[16 * j + 12]!, world[16 * j + 13]!, world[16 * j + 14]!] as const;
      const moved = [0, 1, 2].map(
        (r) => m[r]! * origin[0] + m[4 + r]! * origin[1] + m[8 + r]! * origin[2] + m[12 + r]! - origin[r]!,
      ) as [number, number, number];
      const mm = 1000 * length(moved);
      if (deg <= maxDegrees && mm <= maxMm) return;
      if (deg > 10 && /UpperArm$/.test(humanoid?.boneOfJoint[j] ?? "")) wide.add(joint.name);
      const byAngle = deg / maxDegrees >= mm / maxMm;
      out.push(
        finding({
          check: "skeleton.rest-bind",
          severity: "error",
          joint: joint.name,
          value: byAngle ? deg : mm,
          unit: byAngle ? "deg" : "mm",
          limit: byAngle ? maxDegrees : maxMm,
          message:
            `${joint.name} rests ${deg.toFixed(1)} degrees and ${mm.toFixed(1)} mm ` +
            "from where it was bound; set the skeleton to its bind pose or bind again.",
        }),
      );
    });
    const bound = new Float64Array(world.length);
    skeleton.joints.forEach((_, j) => skeleton.inSkin[j] && invertAffine(bound, 16 * j, skeleton.inverseBinds, 16 * j));
    const [stands, mesh] = [armStance(humanoid, world), armStance(humanoid, bound)];
    const words =
      stands && mesh && stands !== mesh
        ? `the skeleton stands ${stands}, the mesh ${mesh}`
        : "the skeleton stands in another pose than the mesh";
    return out.map((f) =>
      wide.has(f.joint!)
        ? {
            ...f,
            message:
              `${f.joint} rests ${f.value!.toFixed(0)} degrees from its ` +
              `bind: ${words} (arms). Bring them together before binding.`,
          }
        : f,
    );
  },
});
