/** Area of a polygon by its vector area (Newell): exact for flat ones. @param P 3 x vertexCount. */
export const faceArea = (P: ArrayLike<number>, corners: ArrayLike<number>): number =>
  Math.hypot(...faceVector(P, corners)) / 2;

/** Twice the vector area of a polygon: along its normal, as long as twice its area. */
export function faceVector(P: ArrayLike<number>, corners: ArrayLike<number>): [number, number, number] {
  const o = 3 * corners[0]!;
  let [x, y, z]: [number, number, number] = [0, 0, 0];
  for (let k = 1; k + 1 < corners.length; k++) {
    const a = 3 * corners[k]!;
    const b = 3 * corners[k + 1]!;
    const [ux, uy, uz] = [P[a]! - P[o]!, P[a + 1]! - P[o + 1]!, P[a + 2]! - P[o + 2]!];
    const [vx, vy, vz] = [P[b]! - P[o]!, P[b + 1]! - P[o + 1]!, P[b + 2]! - P[o + 2]!];
    x += uy * vz - uz * vy;
    y += uz * vx - ux * vz;
    z += ux * vy - uy * vx;
  }
  return [x, y, z];
}

/** A face that keeps a smaller share of its area is flattened. */
const LEAST_AREA = 0.05;

/**
 * Whether a face is turned by more than a right angle or flattened. @param rest, moved its vector areas; one without
 * area at rest is never turned.
 */
export function isTurned(rest: readonly [number, number, number], moved: readonly [number, number, number]): boolean {
  const area = Math.sqrt(rest[0] * rest[0] + rest[1] * rest[1] + rest[2] * rest[2]);
  if (area <= 1e-12) return false;
  if (rest[0] * moved[0] + rest[1] * moved[1] + rest[2] * moved[2] < 0) return true;
  return Math.sqrt(moved[0] * moved[0] + moved[1] * moved[1] + moved[2] * moved[2]) < LEAST_AREA * area;
}
const SMALLEST_AREA = 1e-12;
/** A face that uses a corner twice or has no area. */
export const isDegenerate = (P: Float32Array, corners: ArrayLike<number>): boolean =>
  faceArea(P, corners) < SMALLEST_AREA || new Set(Array.from(corners)).size < corners.length;
