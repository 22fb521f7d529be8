/**
 * Smooth interpolation of a table that does not overshoot between its rows: cubic Hermite with the slopes of
 * Fritsch & Carlson 1980, "Monotone piecewise cubic interpolation" (harmonic mean form). Constant outside the table.
 * @param rows [argument, value, value, ...], arguments ascending.
 * @returns function from an argument to the row's values there.
 */
export function monotoneTable(rows: readonly (readonly number[])[]): (x: number) => number[] {
  if (rows.length < 2 || rows.some((r, i) => i > 0 && r[0]! <= rows[i - 1]![0]!)) throw new Error("monotoneTable: rows must be two or more, arguments ascending");
  const at = rows.map((r) => r[0]!);
  const columns = Array.from({ length: rows[0]!.length - 1 }, (_, k) => {
    const values = rows.map((r) => r[k + 1]!);
    return { values, slopes: slopesOf(at, values) };
  });
  const last = at.length - 1;
  return (argument) => {
    const x = Math.min(at[last]!, Math.max(at[0]!, argument));
    let i = 0;
    while (i < last - 1 && x > at[i + 1]!) i++;
    const h = at[i + 1]! - at[i]!;
    const u = (x - at[i]!) / h;
    const u2 = u * u;
    const u3 = u2 * u;
    return columns.map(({ values, slopes }) => (2 * u3 - 3 * u2 + 1) * values[i]! + (u3 - 2 * u2 + u) * h * slopes[i]! + (3 * u2 - 2 * u3) * values[i + 1]! + (u3 - u2) * h * slopes[i + 1]!);
  };
}

function slopesOf(at: readonly number[], values: readonly number[]): number[] {
  const last = at.length - 1;
  const secant = Array.from({ length: last }, (_, i) => (values[i + 1]! - values[i]!) / (at[i + 1]! - at[i]!));
  return values.map((_, i) => {
    if (i === 0) return secant[0]!;
    if (i === last) return secant[last - 1]!;
    const [before, after] = [secant[i - 1]!, secant[i]!];
    if (before * after <= 0) return 0;
    const h0 = at[i]! - at[i - 1]!;
    const h1 = at[i + 1]! - at[i]!;
    return (3 * (h0 + h1)) / ((2 * h1 + h0) / before + (h1 + 2 * h0) / after);
  });
}
