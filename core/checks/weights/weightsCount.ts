import { limitInfluences } from "../../edits/mend/mendWeights";
import { amount, check } from "../check";
import { vertexCountOf } from "../../model/character";
import { finding } from "../finding";

/** Influences per vertex against the profile. */
export const weightsCount = check({
  id: "weights.count",
  title: "Influences per vertex",
  station: "skeleton",
  unit: "joints",
  measures: "influences per vertex",
  severity: "error",
  limits: { "weights.count": amount({ film: 8, realtime: 4, crowd: 4 }) },
  source: "glTF 2.0 specification: sets of four; film 8 is common practice",
  mend: {
    says: (f) => `Keeps the ${f.limit} heaviest joints of each vertex of ${f.part} and scales them to a sum of 1.`,
    apply: (c, f) => limitInfluences(c, f.part!, f.limit!),
  },
  run: (character, { limits, profileName }) => {
    const limit = limits["weights.count"];
    if (limit === null) return [];
    return character.parts.flatMap((part) => {
      if (!part.skin) return [];
      const { influenceCount, weights } = part.skin;
      const over: [number, number][] = [];
      for (let v = 0; v < vertexCountOf(part); v++) {
        let count = 0;
        for (let k = 0; k < influenceCount; k++) if (weights[v * influenceCount + k]! > 0) count++;
        if (count > limit) over.push([v, count]);
      }
      if (!over.length) return [];
      over.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "weights.count",
          severity: "error",
          part: part.name,
          vertices: over.map(([v]) => v),
          value: over[0]![1],
          unit: "joints",
          limit,
          message:
            `${over.length} vertices of ${part.name} follow up to ${over[0]![1]} ` +
            `joints; ${profileName} allows ${limit}. Keep the heaviest and normalise.`,
        }),
      ];
    });
  },
});
