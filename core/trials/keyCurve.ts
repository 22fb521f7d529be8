import type { Curve } from "./trial";

/**
 * A curve through keys at a moment; before the first and after the last key it stands still. Smooth: monotone cubic
 * (Fritsch & Carlson 1980, "Monotone Piecewise Cubic Interpolation", with the tangents of Steffen 1990, "A simple
 * method for monotonic interpolation in one dimension"), so that it never goes beyond its keys.
 * @param width numbers a key.
 */
export function valueAt({ times, values, ease }: Curve, width: number, seconds: number): number[] {
  const at = (k: number): number[] => values.slice(k * width, (k + 1) * width);
  const last = times.length - 1;
  if (last < 0) return new Array<number>(width).fill(0);
  if (last === 0 || seconds <= times[0]!) return at(0);
  if (seconds >= times[last]!) return at(last);
  let k = 0;
  while (times[k + 1]! <= seconds) k++;
  if (ease === "stepped") return at(k);
  const h = times[k + 1]! - times[k]!;
  const t = (seconds - times[k]!) / h;
  const [a, b] = [at(k), at(k + 1)];
  if (ease === "straight") return a.map((x, i) => x + t * (b[i]! - x));
  return a.map((x, i) => {
    const [m0, m1] = [tangent(times, values, width, k, i), tangent(times, values, width, k + 1, i)];
    const [t2, t3] = [t * t, t * t * t];
    return (2 * t3 - 3 * t2 + 1) * x + (t3 - 2 * t2 + t) * h * m0 + (3 * t2 - 2 * t3) * b[i]! + (t3 - t2) * h * m1;
  });
}

/** Slope at a key by Steffen's rule: as at the ends of d3-shape's and his own formula. */
function tangent(times: readonly number[], values: readonly number[], width: number, k: number, i: number): number {
  const last = times.length - 1;
  const slope = (n: number): number =>
    (values[(n + 1) * width + i]! - values[n * width + i]!) / (times[n + 1]! - times[n]!);
  if (k === 0) return last < 1 ? 0 : endSlope(slope(0), last > 1 ? tangent(times, values, width, 1, i) : slope(0));
  if (k === last)
    return endSlope(slope(last - 1), last > 1 ? tangent(times, values, width, last - 1, i) : slope(last - 1));
  const [h0, h1] = [times[k]! - times[k - 1]!, times[k + 1]! - times[k]!];
  const [s0, s1] = [slope(k - 1), slope(k)];
  const p = (s0 * h1 + s1 * h0) / (h0 + h1);
  return (Math.sign(s0) + Math.sign(s1)) * Math.min(Math.abs(s0), Math.abs(s1), 0.5 * Math.abs(p)) || 0;
}
const endSlope = (slope: number, next: number): number => (3 * slope - next) / 2;
