import type { Vec3 } from "../math/vec3";

export interface Sphere {
  readonly centre: Vec3;
  readonly radius: number;
  /** Root mean square distance of the used points from the sphere. */
  readonly residual: number;
}

const ROUNDS = 4;
/** Share of the radius beyond which a point is left out of the next round: the cornea stands out of an eyeball. */
const OUTLIER = 0.015;

/**
 * Sphere through points: algebraic least squares (Coope 1993, "Circle fitting by linear and nonlinear least squares"),
 * repeated without the outliers.
 * @param positions 3 x n, metres. @returns null for fewer than four points or points in a plane.
 */
export function fitSphere(positions: ArrayLike<number>): Sphere | null {
  const count = positions.length / 3;
  let used = Uint32Array.from({ length: count }, (_, i) => i);
  let sphere: Sphere | null = null;
  for (let round = 0; round < ROUNDS && used.length >= 4; round++) {
    const next = solveSphere(positions, used);
    if (!next) return sphere;
    sphere = next;
    const kept = Uint32Array.from(
      Array.from({ length: count }, (_, i) => i).filter(
        (i) => Math.abs(distance(positions, i, next.centre) - next.radius) < OUTLIER * next.radius,
      ),
    );
    if (kept.length < 0.5 * count) return sphere;
    used = kept;
  }
  return sphere;
}

const distance = (P: ArrayLike<number>, i: number, c: Vec3): number =>
  Math.hypot(P[3 * i]! - c[0], P[3 * i + 1]! - c[1], P[3 * i + 2]! - c[2]);

/** Solves 2 c . p + (r^2 - c^2) = p^2 in the least squares sense, about the points' mean. */
function solveSphere(P: ArrayLike<number>, used: Uint32Array): Sphere | null {
  const mean = [0, 0, 0];
  for (const i of used) for (let k = 0; k < 3; k++) mean[k]! += P[3 * i + k]! / used.length;
  const rows = Array.from({ length: 4 }, () => new Float64Array(5));
  for (const i of used) {
    const a = [2 * (P[3 * i]! - mean[0]!), 2 * (P[3 * i + 1]! - mean[1]!), 2 * (P[3 * i + 2]! - mean[2]!), 1];
    const b = (a[0]! * a[0]! + a[1]! * a[1]! + a[2]! * a[2]!) / 4;
    for (let r = 0; r < 4; r++) {
      for (let c = 0; c < 4; c++) rows[r]![c]! += a[r]! * a[c]!;
      rows[r]![4]! += a[r]! * b;
    }
  }
  const scale = Math.max(rows[0]![0]!, rows[1]![1]!, rows[2]![2]!);
  for (let c = 0; c < 4; c++) {
    let pivot = c;
    for (let r = c + 1; r < 4; r++) if (Math.abs(rows[r]![c]!) > Math.abs(rows[pivot]![c]!)) pivot = r;
    [rows[c], rows[pivot]] = [rows[pivot]!, rows[c]!];
    if (c < 3 && Math.abs(rows[c]![c]!) < 1e-9 * scale) return null;
    for (let r = 0; r < 4; r++) {
      if (r === c) continue;
      const f = rows[r]![c]! / rows[c]![c]!;
      for (let k = c; k < 5; k++) rows[r]![k]! -= f * rows[c]![k]!;
    }
  }
  const [x, y, z, t] = rows.map((row, i) => row[4]! / row[i]!) as [number, number, number, number];
  const squared = t + x * x + y * y + z * z;
  if (!(squared > 0)) return null;
  const centre: Vec3 = [x + mean[0]!, y + mean[1]!, z + mean[2]!];
  const radius = Math.sqrt(squared);
  const residual = Math.sqrt(used.reduce((s, i) => s + (distance(P, i, centre) - radius) ** 2, 0) / used.length);
  return { centre, radius, residual };
}
