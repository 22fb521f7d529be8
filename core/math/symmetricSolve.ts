/** A symmetric sparse matrix under construction: the diagonal, and pairs of rows with their common entry. */
export class SymmetricMatrix {
  readonly diagonal: Float64Array;
  private readonly rows: Map<number, number>[];

  constructor(readonly size: number) {
    this.diagonal = new Float64Array(size);
    this.rows = Array.from({ length: size }, () => new Map<number, number>());
  }

  /** Adds w to entry (i, j) and to (j, i). */
  add(i: number, j: number, w: number): void {
    if (i === j) {
      this.diagonal[i]! += w;
      return;
    }
    this.rows[i]!.set(j, (this.rows[i]!.get(j) ?? 0) + w);
    this.rows[j]!.set(i, (this.rows[j]!.get(i) ?? 0) + w);
  }

  /** Adds w (x_i - x_j)^2 to the energy that the matrix stands for. */
  addSpring(i: number, j: number, w: number): void {
    this.diagonal[i]! += w;
    this.diagonal[j]! += w;
    this.add(i, j, -w);
  }

  /** Adds w (sum of c_k x_k)^2 to the energy. */
  addSquare(terms: readonly (readonly [row: number, coefficient: number])[], w: number): void {
    terms.forEach(([i, a], k) => {
      this.diagonal[i]! += w * a * a;
      for (const [j, b] of terms.slice(k + 1)) this.add(i, j, w * a * b);
    });
  }

  /** The matrix packed for solving. */
  packed(): PackedMatrix {
    const start = new Uint32Array(this.size + 1);
    this.rows.forEach((row, i) => (start[i + 1] = start[i]! + row.size));
    const column = new Uint32Array(start[this.size]!);
    const value = new Float64Array(start[this.size]!);
    this.rows.forEach((row, i) => {
      let k = start[i]!;
      for (const [j, w] of row) {
        column[k] = j;
        value[k++] = w;
      }
    });
    return { diagonal: this.diagonal, start, column, value };
  }
}

export interface PackedMatrix {
  readonly diagonal: Float64Array;
  readonly start: Uint32Array;
  readonly column: Uint32Array;
  readonly value: Float64Array;
}

/**
 * Solves A x = b for a symmetric positive matrix by conjugate gradients with the diagonal as preconditioner (Shewchuk
 * 1994).
 * @param b, x one value a row; x holds the first guess and becomes the solution. @param accuracy residual over that of
 * b. @returns rounds taken.
 */
export function solveSymmetric(
  { diagonal, start, column, value }: PackedMatrix,
  b: Float64Array,
  x: Float64Array,
  accuracy = 1e-7,
  most = 2000,
): number {
  const n = b.length;
  const multiply = (v: Float64Array, out: Float64Array): void => {
    for (let i = 0; i < n; i++) {
      let sum = diagonal[i]! * v[i]!;
      for (let k = start[i]!; k < start[i + 1]!; k++) sum += value[k]! * v[column[k]!]!;
      out[i] = sum;
    }
  };
  const dot = (u: Float64Array, v: Float64Array): number => {
    let sum = 0;
    for (let i = 0; i < n; i++) sum += u[i]! * v[i]!;
    return sum;
  };
  const precondition = (r: Float64Array, out: Float64Array): void => {
    for (let i = 0; i < n; i++) out[i] = diagonal[i]! > 0 ? r[i]! / diagonal[i]! : r[i]!;
  };
  const [r, z, q] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  multiply(x, q);
  for (let i = 0; i < n; i++) r[i] = b[i]! - q[i]!;
  precondition(r, z);
  const p = z.slice();
  let rz = dot(r, z);
  const goal = accuracy * accuracy * Math.max(dot(b, b), 1e-30);
  for (let round = 0; round < most; round++) {
    if (dot(r, r) <= goal) return round;
    multiply(p, q);
    const step = rz / dot(p, q);
    if (!Number.isFinite(step)) return round;
    for (let i = 0; i < n; i++) {
      x[i]! += step * p[i]!;
      r[i]! -= step * q[i]!;
    }
    precondition(r, z);
    const next = dot(r, z);
    const beta = next / rz;
    rz = next;
    for (let i = 0; i < n; i++) p[i] = z[i]! + beta * p[i]!;
  }
  return most;
}
