/**
 * How the slope at a row follows from the two secants beside it: weighed by the rows' spacing, or their plain harmonic
 * mean.
 */
export type SlopeRule = "spaced" | "plain";

/**
 * Smooth interpolation of a table that does not overshoot between its rows: cubic Hermite with the slopes of
 * Fritsch & Carlson 1980, "Monotone piecewise cubic interpolation" (harmonic mean form). Constant outside the table.
 * @param rows [argument, value, value, ...], arguments ascending.
 * @returns function from an argument to the row's values there; it remembers the last one asked for.
 */
export function monotoneTable(
  rows: readonly (readonly number[])[],
  rule: SlopeRule = "spaced",
): (x: number) => readonly number[] {
  if (rows.length < 2 || rows.some((r, i) => i > 0 && r[0]! <= rows[i - 1]![0]!))
    throw new Error("monotoneTable: rows must be two or more, arguments ascending");
  const at = rows.map((r) => r[0]!);
  const columns = rows[0]!.length - 1;
  const last = at.length - 1;
  // per interval and column the cubic's four coefficients in the argument's distance from the interval's start
  const cubics = new Float64Array(4 * columns * last);
  for (let k = 0; k < columns; k++) {
    const values = rows.map((r) => r[k + 1]!);
    const slopes = slopesOf(at, values, rule);
    for (let i = 0; i < last; i++) {
      const h = at[i + 1]! - at[i]!;
      const rise = (values[i + 1]! - values[i]!) / h;
      cubics.set(
        [
          values[i]!,
          slopes[i]!,
          (3 * rise - 2 * slopes[i]! - slopes[i + 1]!) / h,
          (slopes[i]! + slopes[i + 1]! - 2 * rise) / (h * h),
        ],
        4 * (i * columns + k),
      );
    }
  }
  let i = 0;
  let lastAsked = NaN;
  let lastTold: readonly number[] = [];
  return (argument) => {
    if (argument === lastAsked) return lastTold;
    const x = argument < at[0]! ? at[0]! : argument > at[last]! ? at[last]! : argument;
    while (i > 0 && x <= at[i]!) i--;
    while (i < last - 1 && x > at[i + 1]!) i++;
    const u = x - at[i]!;
    const out = new Array<number>(columns);
    for (let k = 0, c = 4 * i * columns; k < columns; k++, c += 4)
      out[k] = cubics[c]! + u * (cubics[c + 1]! + u * (cubics[c + 2]! + u * cubics[c + 3]!));
    lastAsked = argument;
    return (lastTold = out);
  };
}

/** A table of one column as a plain function, with plain slopes. @param at arguments, ascending. */
export function monotoneCurve(at: readonly number[], values: readonly number[]): (x: number) => number {
  const table = monotoneTable(
    at.map((x, i) => [x, values[i]!]),
    "plain",
  );
  return (x) => table(x)[0]!;
}

function slopesOf(at: readonly number[], values: readonly number[], rule: SlopeRule): number[] {
  const last = at.length - 1;
  const secant = Array.from({ length: last }, (_, i) => (values[i + 1]! - values[i]!) / (at[i + 1]! - at[i]!));
  return values.map((_, i) => {
    if (i === 0) return secant[0]!;
    if (i === last) return secant[last - 1]!;
    const [before, after] = [secant[i - 1]!, secant[i]!];
    if (before * after <= 0) return 0;
    if (rule === "plain") return (2 * before * after) / (before + after);
    const h0 = at[i]! - at[i - 1]!;
    const h1 = at[i + 1]! - at[i]!;
    return (3 * (h0 + h1)) / ((2 * h1 + h0) / before + (h1 + 2 * h0) / after);
  });
}
