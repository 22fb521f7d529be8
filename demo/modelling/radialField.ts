import type { Vec3 } from "../../core/math/vec3";

/**
 * Radius as a smooth function of direction, fitted to points of the left half and their mirror images: radial basis
 * functions r^3 on unit directions with a linear part in y and z, a small ridge for calm between the points. Solved by
 * Gauss-Jordan with row pivoting; `points.length` up to a few hundred.
 * @param points any unit; must not lie at `centre`.
 */
export function fitRadialField(points: readonly Vec3[], centre: Vec3, ridge = 2e-4): (direction: Vec3) => number {
  const known = points.map((p) => {
    const [x, y, z] = [p[0] - centre[0], p[1] - centre[1], p[2] - centre[2]];
    const radius = Math.sqrt(x * x + y * y + z * z);
    if (radius === 0) throw new Error("fitRadialField: a point lies at the centre");
    return { x: x / radius, y: y / radius, z: z / radius, radius };
  });
  const basis = (x: number, y: number, z: number, i: number): number => {
    const k = known[i]!;
    const yz = (y - k.y) ** 2 + (z - k.z) ** 2;
    const same = Math.sqrt((x - k.x) ** 2 + yz);
    const mirrored = Math.sqrt((x + k.x) ** 2 + yz);
    return same * same * same + mirrored * mirrored * mirrored;
  };
  const n = known.length;
  const rows = Array.from({ length: n + 3 }, () => new Float64Array(n + 4));
  known.forEach((k, i) => {
    for (let j = 0; j < n; j++) rows[i]![j] = basis(k.x, k.y, k.z, j);
    rows[i]![i]! += ridge;
    [1, k.y, k.z].forEach((v, c) => {
      rows[i]![n + c] = v;
      rows[n + c]![i] = v;
    });
    rows[i]![n + 3] = k.radius;
  });
  const weights = solve(rows);
  return ([x, y, z]) => {
    let r = weights[n]! + weights[n + 1]! * y + weights[n + 2]! * z;
    for (let i = 0; i < n; i++) r += weights[i]! * basis(x, y, z, i);
    return r;
  };
}

/** Solves the augmented system in place. @param rows m rows of m + 1 numbers. */
function solve(rows: Float64Array[]): number[] {
  const m = rows.length;
  for (let c = 0; c < m; c++) {
    let pivot = c;
    for (let r = c + 1; r < m; r++) if (Math.abs(rows[r]![c]!) > Math.abs(rows[pivot]![c]!)) pivot = r;
    [rows[c], rows[pivot]] = [rows[pivot]!, rows[c]!];
    const lead = rows[c]!;
    for (let r = 0; r < m; r++) {
      const row = rows[r]!;
      const factor = row[c]! / lead[c]!;
      if (r === c || factor === 0) continue;
      for (let k = c; k <= m; k++) row[k]! -= factor * lead[k]!;
    }
  }
  return rows.map((row, i) => row[m]! / row[i]!);
}
