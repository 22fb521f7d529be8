import { bindRigidly } from "../../edits/mend/mendWeights";
import { check } from "../check";
import { vertexCountOf } from "../../model/character";
import { finding } from "../finding";

const LEAST = 1e-3;

/** Eyeballs and teeth: anything that follows a second joint bends what must stay rigid. */
export const weightsRigidParts = check({
  id: "weights.rigid-parts",
  title: "Eyes and teeth on one joint",
  station: "skeleton",
  unit: "weight",
  measures: "largest second influence of eyeballs and teeth",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "our own choice: 0",
  mend: {
    says: (f) => `Binds all of ${f.part} to the joint that holds most of it.`,
    apply: (c, f) => bindRigidly(c, f.part!),
  },
  run: (character) =>
    character.parts.flatMap((part) => {
      if (!part.skin || (part.kind !== "eye" && part.kind !== "teeth")) return [];
      const { influenceCount: n, weights } = part.skin;
      const off: [number, number][] = [];
      for (let v = 0; v < vertexCountOf(part); v++) {
        const own = Array.from(weights.subarray(v * n, v * n + n)).sort((a, b) => b - a);
        if ((own[1] ?? 0) > LEAST) off.push([v, own[1]!]);
      }
      if (!off.length) return [];
      off.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "weights.rigid-parts",
          severity: "warn",
          part: part.name,
          vertices: off.map(([v]) => v),
          value: off[0]![1],
          unit: "weight",
          limit: 0,
          message:
            `${off.length} vertices of ${part.name} follow a second joint ` +
            `by up to ${off[0]![1].toFixed(2)}; bind the part to one joint.`,
        }),
      ];
    }),
});
