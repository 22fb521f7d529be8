/**
 * Inverse of a small dense matrix by Gauss-Jordan elimination with partial pivoting.
 * @param m n x n, row after row; not changed. @returns n x n, or null where it is singular to 1e-12 of its largest.
 */
export function invertDense(m: Float64Array, n: number): Float64Array | null {
  const a = m.slice();
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++) out[i * n + i] = 1;
  const largest = m.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  const swapped = (rows: Float64Array, i: number, j: number): void => {
    if (i !== j) for (let k = 0; k < n; k++) [rows[i * n + k], rows[j * n + k]] = [rows[j * n + k]!, rows[i * n + k]!];
  };
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let row = column + 1; row < n; row++)
      if (Math.abs(a[row * n + column]!) > Math.abs(a[pivot * n + column]!)) pivot = row;
    if (!(Math.abs(a[pivot * n + column]!) > 1e-12 * largest)) return null;
    swapped(a, column, pivot);
    swapped(out, column, pivot);
    const by = 1 / a[column * n + column]!;
    for (let k = 0; k < n; k++) {
      a[column * n + k]! *= by;
      out[column * n + k]! *= by;
    }
    for (let row = 0; row < n; row++) {
      const f = row === column ? 0 : a[row * n + column]!;
      if (f === 0) continue;
      for (let k = 0; k < n; k++) {
        a[row * n + k]! -= f * a[column * n + k]!;
        out[row * n + k]! -= f * out[column * n + k]!;
      }
    }
  }
  return out;
}
