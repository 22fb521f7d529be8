import { svd3 } from "./svd3";

/** q = scale * rotation * p + offset. */
export interface Similarity {
  readonly scale: number;
  /** Column-major 3x3; its determinant is -1 where the points were mirrored. */
  readonly rotation: Float64Array;
  readonly offset: readonly [number, number, number];
}

/** Everything stays where it is. */
export const SAME_PLACE: Similarity = {
  scale: 1,
  rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1),
  offset: [0, 0, 0],
};

export interface SimilarityOptions {
  /** How often it is found anew with points that fit badly counting less. */
  readonly rounds?: number;
  /** Whether the points may be mirrored. */
  readonly mirrored?: boolean;
  /** A scale that is known. */
  readonly scale?: number | undefined;
}

/**
 * The similarity that carries points onto others in least squares (Umeyama 1991), mirroring allowed unless told
 * otherwise, found again with points that fit badly counting less:
 * an expression moves some of a face, the rest of the head says how it is placed.
 * @param from 3 x n. @param to 3 x n.
 */
export function fitSimilarity(
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  options: SimilarityOptions = {},
): Similarity {
  const n = from.length / 3;
  const { rounds = 12 } = options;
  const weights = new Float64Array(n).fill(1);
  let fit = weighted(from, to, weights, options);
  for (let round = 1; round < rounds; round++) {
    const off = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      const q = applySimilarity(fit, from[3 * i]!, from[3 * i + 1]!, from[3 * i + 2]!);
      off[i] = Math.hypot(q[0] - to[3 * i]!, q[1] - to[3 * i + 1]!, q[2] - to[3 * i + 2]!);
    }
    // a floor keeps exact fits from being all that counts
    const sorted = off.slice().sort();
    const floor = Math.max(1e-9, sorted[n >> 1]! * 0.1);
    for (let i = 0; i < n; i++) weights[i] = 1 / Math.max(off[i]!, floor);
    fit = weighted(from, to, weights, options);
  }
  return fit;
}

export function applySimilarity(
  { scale, rotation: R, offset }: Similarity,
  x: number,
  y: number,
  z: number,
): [number, number, number] {
  return [0, 1, 2].map((i) => scale * (R[i]! * x + R[3 + i]! * y + R[6 + i]! * z) + offset[i]!) as [
    number,
    number,
    number,
  ];
}

/** Below this share of the first the last singular value is rounding: it comes from squares. */
const FLAT = 1e-6;

function weighted(
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  weights: Float64Array,
  { mirrored = true, scale: known }: SimilarityOptions,
): Similarity {
  const n = weights.length;
  const [a, b] = [new Float64Array(3), new Float64Array(3)];
  let sum = 0;
  for (let i = 0; i < n; i++) {
    sum += weights[i]!;
    for (let c = 0; c < 3; c++) {
      a[c]! += weights[i]! * from[3 * i + c]!;
      b[c]! += weights[i]! * to[3 * i + c]!;
    }
  }
  for (let c = 0; c < 3; c++) {
    a[c]! /= sum;
    b[c]! /= sum;
  }
  // covariance, column-major: column j is how the target goes with the j-th coordinate
  const m = new Float64Array(9);
  let spread = 0;
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 3; j++) {
      const p = from[3 * i + j]! - a[j]!;
      spread += weights[i]! * p * p;
      for (let k = 0; k < 3; k++) m[3 * j + k]! += weights[i]! * p * (to[3 * i + k]! - b[k]!);
    }
  const { sigma, v } = svd3(m);
  // rotation = U V^T with U = M V / sigma; a flat or lined-up set has its last directions made square to the others
  const u = new Float64Array(9);
  for (let k = 0; k < 3; k++)
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) u[3 * k + i]! += (m[3 * j + i]! * v[3 * k + j]!) / Math.max(sigma[k]!, 1e-300);
  if (sigma[2]! < FLAT * sigma[0]!) {
    const det = determinant(v);
    const cross = [u[1]! * u[5]! - u[2]! * u[4]!, u[2]! * u[3]! - u[0]! * u[5]!, u[0]! * u[4]! - u[1]! * u[3]!];
    for (let i = 0; i < 3; i++) u[6 + i] = Math.sign(det || 1) * cross[i]!;
  }
  // the direction that says least gives way where a mirrored fit would be best but is not wanted
  const turn = !mirrored && determinant(u) * determinant(v) < 0 ? -1 : 1;
  for (let i = 0; i < 3; i++) u[6 + i]! *= turn;
  const rotation = new Float64Array(9);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) rotation[3 * j + i]! += u[3 * k + i]! * v[3 * k + j]!;
  const scale = known ?? (spread > 0 ? (sigma[0] + sigma[1] + turn * sigma[2]) / spread : 1);
  const turned = applySimilarity({ scale, rotation, offset: [0, 0, 0] }, a[0]!, a[1]!, a[2]!);
  return { scale, rotation, offset: [b[0]! - turned[0], b[1]! - turned[1], b[2]! - turned[2]] };
}

export const determinant = (m: ArrayLike<number>): number =>
  m[0]! * (m[4]! * m[8]! - m[7]! * m[5]!) -
  m[3]! * (m[1]! * m[8]! - m[7]! * m[2]!) +
  m[6]! * (m[1]! * m[5]! - m[4]! * m[2]!);
