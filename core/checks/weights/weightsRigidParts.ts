import { vertexCountOf } from "../../model/character";
import { finding, type Check } from "../finding";

const LEAST = 1e-3;

/** Eyeballs and teeth: anything that follows a second joint bends what must stay rigid. */
export const weightsRigidParts: Check = {
  id: "weights.rigid-parts",
  title: "Eyes and teeth on one joint",
  unit: "weight",
  source: "our own choice: 0",
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
};
