export type CheckStation = "intake" | "skeleton" | "shapes" | "trials";

/** Which station a check belongs to, by the first word of its id. */
export const stationOfCheck = (check: string): CheckStation =>
  /^(skeleton|weights)\./.test(check)
    ? "skeleton"
    : /^(shapes|face)\./.test(check)
      ? "shapes"
      : /^(pose|pair|speech)\./.test(check)
        ? "trials"
        : "intake";
