import { amount, check } from "../check";
import { mirrorMap, NO_MIRROR } from "../../model/mirrorMap";
import { vertexCountOf } from "../../model/character";
import { finding } from "../finding";

/** Weights of each vertex against those of its mirror image on the other side's joints, body and garments. */
export const weightsSymmetry = check({
  id: "weights.symmetry",
  title: "Mirrored weights",
  station: "skeleton",
  unit: "weight",
  measures: "weights of a vertex against those of its mirror image, body and garments",
  severity: "warn",
  limits: { "weights.symmetry": amount(0.05) },
  source: "our own choice: 0.05",
  waitsFor: "stance and size",
  run: (character, { humanoid, limits }) => {
    const limit = limits["weights.symmetry"];
    const { skeleton } = character;
    if (!skeleton || !humanoid || limit === null) return [];
    const across = skeleton.joints.map((_, j) => {
      const bone = humanoid.boneOfJoint[j];
      if (!bone) return null;
      const other = bone.startsWith("left")
        ? bone.replace("left", "right")
        : bone.startsWith("right")
          ? bone.replace("right", "left")
          : bone;
      return humanoid.jointOfBone.get(other) ?? null;
    });
    return character.parts.flatMap((part) => {
      if (!part.skin || (part.kind !== "body" && part.kind !== "garment")) return [];
      const { influenceCount: n, joints, weights } = part.skin;
      const mirror = mirrorMap(part.positions);
      const weightOf = (v: number, joint: number): number => {
        let sum = 0;
        for (let k = 0; k < n; k++) if (joints[v * n + k] === joint) sum += weights[v * n + k]!;
        return sum;
      };
      const off: [number, number][] = [];
      for (let v = 0; v < vertexCountOf(part); v++) {
        if (mirror[v] === NO_MIRROR || mirror[v]! < v) continue;
        let worst = 0;
        for (let k = 0; k < n; k++) {
          const other = across[joints[v * n + k]!];
          if (other !== null && other !== undefined && weights[v * n + k]! > 0)
            worst = Math.max(worst, Math.abs(weights[v * n + k]! - weightOf(mirror[v]!, other)));
        }
        if (worst > limit) off.push([v, worst]);
      }
      if (!off.length) return [];
      off.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "weights.symmetry",
          severity: "warn",
          part: part.name,
          vertices: off.map(([v]) => v),
          value: off[0]![1],
          unit: "weight",
          limit,
          message:
            `${off.length} vert${off.length > 1 ? "ices" : "ex"} of ${part.name} weigh ` +
            `otherwise than their mirror images, by up to ${off[0]![1].toFixed(2)}.`,
        }),
      ];
    });
  },
});
