import type { Shape } from "../../model/character";
import { finding, type Check } from "../finding";

/** Largest movement of a shape, mm. */
export function maxDeltaMm(shape: Shape): number {
  let max = 0;
  for (const { deltas } of shape.deltas)
    for (let i = 0; i < deltas.length; i += 3)
      max = Math.max(max, deltas[i]! ** 2 + deltas[i + 1]! ** 2 + deltas[i + 2]! ** 2);
  return 1000 * Math.sqrt(max);
}

export const shapesEmpty: Check = {
  id: "shapes.empty",
  title: "Shapes that move nothing",
  unit: "mm",
  source: "our own choice: 0.1 mm",
  run: (character, { profile }) => {
    const limit = profile.limits["shapes.empty"];
    if (limit === null) return [];
    return character.shapes.flatMap((shape) => {
      const max = maxDeltaMm(shape);
      return max > limit
        ? []
        : [
            finding({
              check: "shapes.empty",
              severity: "warn",
              shape: shape.name,
              value: max,
              unit: "mm",
              limit,
              message: `${shape.label} moves nothing by more than ${limit} mm; leave it out or make it again.`,
            }),
          ];
    });
  },
};
