/**
 * Singular values and right singular vectors of a 3x3 matrix by cyclic Jacobi turns on its Gram matrix
 * (Golub & Van Loan, Matrix Computations, section 8.5).
 * @param m 9 numbers, column-major.
 * @returns sigma (largest first) and v, the right singular vectors as columns, column-major.
 */
export function svd3(m: ArrayLike<number>): { sigma: [number, number, number]; v: Float64Array } {
  const a = new Float64Array(9);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) a[3 * j + i]! += m[3 * i + k]! * m[3 * j + k]!;
  const v = Float64Array.from([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  for (let sweep = 0; sweep < 12; sweep++) {
    const off = Math.abs(a[3]!) + Math.abs(a[6]!) + Math.abs(a[7]!);
    if (off < 1e-16 * (a[0]! + a[4]! + a[8]!)) break;
    for (let p = 0; p < 2; p++)
      for (let q = p + 1; q < 3; q++) {
        const apq = a[3 * q + p]!;
        if (apq === 0) continue;
        const theta = (a[3 * q + q]! - a[3 * p + p]!) / (2 * apq);
        const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.hypot(theta, 1));
        const c = 1 / Math.hypot(t, 1);
        const s = t * c;
        for (let k = 0; k < 3; k++) {
          const x = a[3 * p + k]!;
          const y = a[3 * q + k]!;
          a[3 * p + k] = c * x - s * y;
          a[3 * q + k] = s * x + c * y;
        }
        for (let k = 0; k < 3; k++) {
          const x = a[3 * k + p]!;
          const y = a[3 * k + q]!;
          a[3 * k + p] = c * x - s * y;
          a[3 * k + q] = s * x + c * y;
        }
        for (let k = 0; k < 3; k++) {
          const x = v[3 * p + k]!;
          const y = v[3 * q + k]!;
          v[3 * p + k] = c * x - s * y;
          v[3 * q + k] = s * x + c * y;
        }
      }
  }
  const order = [0, 1, 2].sort((i, j) => a[4 * j]! - a[4 * i]!);
  const sorted = new Float64Array(9);
  order.forEach((o, i) => sorted.set(v.subarray(3 * o, 3 * o + 3), 3 * i));
  const sigma = order.map((o) => Math.sqrt(Math.max(0, a[4 * o]!)));
  return { sigma: [sigma[0]!, sigma[1]!, sigma[2]!], v: sorted };
}
