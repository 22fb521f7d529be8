import { smoothStep } from "../../core/math/smoothStep";

/** Straight blend of two numbers; t 0 gives a, 1 gives b. */
export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;

/** 0 up to `from`, 1 from `to` on, smooth between (cubic 3t^2 - 2t^3). `from` may be the larger one: then it falls. */
export function smoothstep(from: number, to: number, x: number): number {
  return smoothStep((x - from) / (to - from));
}

/**
 * Smaller of two distances with a rounded seam of width k (quadratic polynomial; Quilez, "Smooth minimum", from
 * memory). Never above the plain minimum.
 */
export function smoothMin(a: number, b: number, k: number): number {
  const d = a > b ? a - b : b - a;
  const least = a < b ? a : b;
  if (d >= k) return least;
  const h = (k - d) / k;
  return least - h * h * k * 0.25;
}
export const smoothMax = (a: number, b: number, k: number): number => -smoothMin(-a, -b, k);

/** Bell curve exp(-(x / width)^2). */
export const bell = (x: number, width: number): number => Math.exp(-((x / width) ** 2));

/** Soft region about a point: product of three bell curves. @param size half widths along x, y, z. */
export const softRegion = (
  p: readonly [number, number, number],
  at: readonly [number, number, number],
  size: readonly [number, number, number],
): number =>
  Math.exp(-(((p[0] - at[0]) / size[0]) ** 2 + ((p[1] - at[1]) / size[1]) ** 2 + ((p[2] - at[2]) / size[2]) ** 2));
