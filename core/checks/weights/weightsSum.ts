import { normalizeWeights } from "../../edits/mend/mendWeights";
import { amount, check } from "../check";
import { vertexCountOf } from "../../model/character";
import { finding } from "../finding";

/** Sum of each vertex's weights against 1. */
export const weightsSum = check({
  id: "weights.sum",
  title: "Weights that do not sum to one",
  station: "skeleton",
  unit: "",
  measures: "sum of each vertex's weights against 1",
  severity: "error",
  limits: { "weights.sum": amount(1e-4) },
  source: "glTF 2.0 specification, section 3.7.3.3",
  mend: {
    says: (f) => `Scales the weights of every vertex of ${f.part} to a sum of 1.`,
    apply: (c, f) => normalizeWeights(c, f.part!),
  },
  run: (character, { limits }) => {
    const limit = limits["weights.sum"];
    if (limit === null) return [];
    return character.parts.flatMap((part) => {
      if (!part.skin) return [];
      const { influenceCount, weights } = part.skin;
      const off: [number, number][] = [];
      let zero = 0;
      for (let v = 0; v < vertexCountOf(part); v++) {
        let sum = 0;
        for (let k = 0; k < influenceCount; k++) sum += weights[v * influenceCount + k]!;
        if (Math.abs(sum - 1) > limit) off.push([v, Math.abs(sum - 1)]);
        if (sum < 1e-6) zero++;
      }
      if (!off.length) return [];
      off.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      const unbound = zero ? ` ${zero} of them hold no weight at all and will fall to the origin.` : "";
      return [
        finding({
          check: "weights.sum",
          severity: "error",
          part: part.name,
          vertices: off.map(([v]) => v),
          value: off[0]![1],
          unit: "",
          limit,
          message:
            `${off.length} vertices of ${part.name} have weights ` +
            `that do not sum to 1.${unbound} Normalise the weights.`,
        }),
      ];
    });
  },
});
