import { removeShape } from "../../edits/mend/mendShapes";
import { amount, check } from "../check";
import { finding } from "../finding";

/** Shapes whose movement was baked into the base and that are still in the list: played, they act twice. */
export const shapesDouble = check({
  id: "shapes.double",
  title: "Shapes that the base holds already",
  station: "shapes",
  unit: "share",
  measures: "shapes that were baked into the base and are still in the list",
  severity: "warn",
  limits: { "shapes.double": amount(0.5) },
  source: "our own choice: half of the shape",
  mend: {
    says: (f) => `Removes the shape ${f.shape}; the base goes on holding it.`,
    apply: (c, f) => removeShape(c, f.shape!),
  },
  run: ({ baked = [] }, { limits }) => {
    const limit = limits["shapes.double"];
    if (limit === null) return [];
    return baked
      .filter((b) => Math.abs(b.weight) > limit)
      .map((b) =>
        finding({
          check: "shapes.double",
          severity: "warn",
          shape: b.shape,
          value: b.weight,
          unit: "share",
          limit,
          message:
            `${b.shape} was baked into the base at ${b.weight}: played at full it acts ` +
            `${(1 + b.weight).toFixed(1)} times. Remove it, or play it from ${-b.weight} upward.`,
        }),
      );
  },
});
