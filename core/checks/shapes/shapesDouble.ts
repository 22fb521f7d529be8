import { finding, type Check } from "../finding";

/** Shapes whose movement was baked into the base and that are still in the list: played, they act twice. */
export const shapesDouble: Check = {
  id: "shapes.double",
  title: "Shapes that the base holds already",
  unit: "share",
  source: "our own choice: half of the shape",
  run: ({ baked = [] }, { profile }) => {
    const limit = profile.limits["shapes.double"];
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
};
