import { removeShape } from "../../edits/mend/mendShapes";
import { amount, check } from "../check";
import { maxDeltaMm } from "../../measure/measureShapes";
import { finding } from "../finding";

export const shapesEmpty = check({
  id: "shapes.empty",
  title: "Shapes that move nothing",
  station: "shapes",
  unit: "mm",
  measures: "largest movement of a shape",
  severity: "warn",
  limits: { "shapes.empty": amount(0.1) },
  source: "our own choice: 0.1 mm",
  mend: { says: (f) => `Removes the shape ${f.shape}.`, apply: (c, f) => removeShape(c, f.shape!) },
  run: (character, { limits }) => {
    const limit = limits["shapes.empty"];
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
});
