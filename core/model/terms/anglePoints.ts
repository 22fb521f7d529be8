/** A weight at an angle of a joint. */
export interface AnglePoint {
  readonly degrees: number;
  /** 0..2 */
  readonly weight: number;
}

/**
 * Weight at an angle on a curve through points; level beyond its ends.
 * @param points at least one, angles rising. @param slopes from `monotoneSlopes`, or null for straight lines.
 */
export function weightOnPoints(points: readonly AnglePoint[], slopes: readonly number[] | null, angle: number): number {
  const last = points.length - 1;
  if (!(angle > points[0]!.degrees)) return points[0]!.weight;
  if (angle >= points[last]!.degrees) return points[last]!.weight;
  let i = 0;
  while (points[i + 1]!.degrees <= angle) i++;
  const [a, b] = [points[i]!, points[i + 1]!];
  const span = b.degrees - a.degrees;
  const t = (angle - a.degrees) / span;
  if (!slopes) return a.weight + (b.weight - a.weight) * t;
  const [m, n] = [slopes[i]! * span, slopes[i + 1]! * span];
  const s = 1 - t;
  return a.weight * (1 + 2 * t) * s * s + m * t * s * s + b.weight * t * t * (3 - 2 * t) - n * t * t * s;
}

/**
 * Slopes at points, weight a degree, so that cubics between them never leave the heights of their ends: level at the
 * ends and at humps, elsewhere the weighted harmonic mean of the slopes beside (Fritsch & Butland 1984).
 */
export function monotoneSlopes(points: readonly AnglePoint[]): number[] {
  const spans = points.slice(1).map((p, i) => p.degrees - points[i]!.degrees);
  const rises = points.slice(1).map((p, i) => (p.weight - points[i]!.weight) / spans[i]!);
  return points.map((_, i) => {
    const [before, after] = [rises[i - 1], rises[i]];
    if (before === undefined || after === undefined || before * after <= 0) return 0;
    const [u, v] = [2 * spans[i]! + spans[i - 1]!, spans[i]! + 2 * spans[i - 1]!];
    return (u + v) / (u / before + v / after);
  });
}
