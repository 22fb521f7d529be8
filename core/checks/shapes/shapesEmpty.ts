import { removeShape } from "../../edits/mend/mendShapes";
import { amount, check } from "../check";
import { maxDeltaMm } from "../../measure/measureShapes";
import { finding } from "../finding";
import { readByDrivers } from "../../model/drivenShapes";

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
    // a weight that drivers read, an effort, is there to be set
    const read = readByDrivers(character);
    return character.shapes.flatMap((shape) => {
      if (read.has(shape.name)) return [];
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
