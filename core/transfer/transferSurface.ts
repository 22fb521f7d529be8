import { SymmetricMatrix, solveSymmetric, type PackedMatrix } from "../math/symmetricSolve";

/** Tables of a target surface for carrying many movements onto it; built once. */
export interface TransferSurface {
  readonly triangles: Uint32Array;
  readonly rest: Float64Array;
  /** Cotangents of each triangle's corners over two, and at least a little, so that slivers do not blow up. */
  readonly cot: Float64Array;
}

const LEAST_COT = 1e-3;
const MOST_COT = 20;

export function transferSurface(triangles: Uint32Array, positions: ArrayLike<number>): TransferSurface {
  const rest = Float64Array.from(positions);
  const cot = new Float64Array(triangles.length);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [o, a, b] = [0, 1, 2].map((s) => 3 * triangles[t + ((k + s) % 3)]!) as [number, number, number];
      const u = [0, 1, 2].map((c) => rest[a + c]! - rest[o + c]!);
      const w = [0, 1, 2].map((c) => rest[b + c]! - rest[o + c]!);
      const cross = Math.hypot(
        u[1]! * w[2]! - u[2]! * w[1]!,
        u[2]! * w[0]! - u[0]! * w[2]!,
        u[0]! * w[1]! - u[1]! * w[0]!,
      );
      const dot = u[0]! * w[0]! + u[1]! * w[1]! + u[2]! * w[2]!;
      cot[t + k] = Math.min(MOST_COT, Math.max(LEAST_COT, cross > 1e-18 ? dot / cross / 2 : LEAST_COT));
    }
  return { triangles, rest, cot };
}

/** Something the surface has to keep to besides the gradients: sum of c_k x_k = value, weighted. */
export interface Tie {
  readonly terms: readonly (readonly [vertex: number, coefficient: number])[];
  readonly value: readonly [number, number, number];
  readonly weight: number;
}

/** Rings of faces round what moves that may still give. */
const MARGIN = 2;
/** A gradient that differs less from the identity does not move anything. */
const STILL = 1e-4;

/**
 * Movement of the surface whose triangles deform as given gradients say, in least squares over the triangles' areas:
 * deformation transfer (Sumner & Popovic 2004), solved as the equal Poisson problem (Botsch et al. 2006). What lies
 * away from every triangle that deforms stays where it is.
 * @param gradients 9 a triangle, column-major. @param ties further wishes, and @param guess a first movement, 3 x
 * vertexCount.
 * @returns movement, 3 x vertexCount, metres.
 */
export function surfaceFromGradients(
  { triangles, rest, cot }: TransferSurface,
  gradients: Float64Array,
  ties: readonly Tie[] = [],
  guess?: ArrayLike<number>,
): Float64Array {
  const count = rest.length / 3;
  const free = freeVertices(triangles, gradients, count);
  const row = new Int32Array(count).fill(-1);
  let n = 0;
  for (let v = 0; v < count; v++) if (free[v]) row[v] = n++;
  const out = new Float64Array(rest.length);
  if (n === 0) return out;
  const matrix = new SymmetricMatrix(n);
  const b = [0, 1, 2].map(() => new Float64Array(n));
  for (let t = 0; t < triangles.length; t += 3) {
    if (![0, 1, 2].some((k) => row[triangles[t + k]!]! >= 0)) continue;
    const S = gradients.subarray(3 * t, 3 * t + 9);
    for (let k = 0; k < 3; k++) {
      // the edge opposite corner k, weighted by its cotangent: |d_i - d_j - (S - I)(p_i - p_j)|^2
      const [i, j] = [triangles[t + ((k + 1) % 3)]!, triangles[t + ((k + 2) % 3)]!];
      const w = cot[t + k]!;
      const e = [0, 1, 2].map((c) => rest[3 * i + c]! - rest[3 * j + c]!);
      const [ri, rj] = [row[i]!, row[j]!];
      if (ri >= 0 && rj >= 0) matrix.addSpring(ri, rj, w);
      else if (ri >= 0) matrix.diagonal[ri]! += w;
      else if (rj >= 0) matrix.diagonal[rj]! += w;
      for (let c = 0; c < 3; c++) {
        const pull = w * (S[c]! * e[0]! + S[3 + c]! * e[1]! + S[6 + c]! * e[2]! - e[c]!);
        if (ri >= 0) b[c]![ri]! += pull;
        if (rj >= 0) b[c]![rj]! -= pull;
      }
    }
  }
  for (const { terms, value, weight } of ties) {
    const own = terms.filter(([v]) => row[v]! >= 0).map(([v, c]) => [row[v]!, c] as const);
    if (!own.length) continue;
    matrix.addSquare(own, weight);
    for (const [r, c] of own) for (let k = 0; k < 3; k++) b[k]![r]! += weight * c * value[k]!;
  }
  const packed: PackedMatrix = matrix.packed();
  for (let c = 0; c < 3; c++) {
    const x = new Float64Array(n);
    if (guess) for (let v = 0; v < count; v++) if (row[v]! >= 0) x[row[v]!] = guess[3 * v + c]!;
    solveSymmetric(packed, b[c]!, x);
    for (let v = 0; v < count; v++) if (row[v]! >= 0) out[3 * v + c] = x[row[v]!]!;
  }
  return out;
}

function freeVertices(triangles: Uint32Array, gradients: Float64Array, count: number): Uint8Array {
  let free = new Uint8Array(count);
  for (let t = 0; t < triangles.length; t += 3) {
    let off = 0;
    for (let k = 0; k < 9; k++) off += Math.abs(gradients[3 * t + k]! - (k % 4 === 0 ? 1 : 0));
    if (off > STILL) for (let k = 0; k < 3; k++) free[triangles[t + k]!] = 1;
  }
  for (let ring = 0; ring < MARGIN; ring++) {
    const next = free.slice();
    for (let t = 0; t < triangles.length; t += 3)
      if ([0, 1, 2].some((k) => free[triangles[t + k]!])) for (let k = 0; k < 3; k++) next[triangles[t + k]!] = 1;
    free = next;
  }
  return free;
}
