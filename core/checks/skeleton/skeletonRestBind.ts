import { worldMatrices } from "../../deform/poseSkeleton";
import { decomposeTRS, multiplyMat4 } from "../../math/mat4";
import { degrees, length } from "../../math/vec3";
import { finding, type Check, type Finding } from "../finding";

/** Rest pose of each joint against its inverse bind matrix: world x inverse bind should be the identity. */
export const skeletonRestBind: Check = {
  id: "skeleton.rest-bind",
  title: "Rest pose against bind pose",
  unit: "deg",
  source: "our own choice: 0.1 degrees, 0.1 mm",
  run: (character, { profile, humanoid }) => {
    const { skeleton } = character;
    const maxDegrees = profile.limits["skeleton.rest-bind.degrees"];
    const maxMm = profile.limits["skeleton.rest-bind.mm"];
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
      const moved = [0, 1, 2].map((r) => m[r]! * origin[0] + m[4 + r]! * origin[1] + m[8 + r]! * origin[2] + m[12 + r]! - origin[r]!) as [number, number, number];
      const mm = 1000 * length(moved);
      if (deg <= maxDegrees && mm <= maxMm) return;
      if (deg > 10 && /UpperArm$/.test(humanoid?.boneOfJoint[j] ?? "")) wide.add(joint.name);
      const byAngle = deg / maxDegrees >= mm / maxMm;
      out.push(finding({ check: "skeleton.rest-bind", severity: "error", joint: joint.name, value: byAngle ? deg : mm, unit: byAngle ? "deg" : "mm", limit: byAngle ? maxDegrees : maxMm, message: `${joint.name} rests ${deg.toFixed(1)} degrees and ${mm.toFixed(1)} mm from where it was bound; set the skeleton to its bind pose or bind again.` }));
    });
    return out.map((f) => (wide.has(f.joint!) ? { ...f, message: `${f.joint} rests ${f.value!.toFixed(0)} degrees from its bind: the skeleton stands in another pose than the mesh (T against A). Bring them together before binding.` } : f));
  },
};
