/** Area of a polygon by its vector area (Newell): exact for flat ones. @param P 3 x vertexCount. */
export const faceArea = (P: ArrayLike<number>, corners: ArrayLike<number>): number =>
  Math.hypot(...faceVector(P, corners)) / 2;

export type VectorArea = [x: number, y: number, z: number];

/**
 * Twice the vector area of a polygon: along its normal, as long as twice its area.
 * @param from, to which of the corners, where they are a longer list. @param out is filled and given back.
 */
export function faceVector(
  P: ArrayLike<number>,
  corners: ArrayLike<number>,
  from = 0,
  to = corners.length,
  out: VectorArea = [0, 0, 0],
): VectorArea {
  const o = 3 * corners[from]!;
  const ox = P[o]!;
  const oy = P[o + 1]!;
  const oz = P[o + 2]!;
  let x = 0;
  let y = 0;
  let z = 0;
  for (let k = from + 1; k + 1 < to; k++) {
    const a = 3 * corners[k]!;
    const b = 3 * corners[k + 1]!;
    const ux = P[a]! - ox;
    const uy = P[a + 1]! - oy;
    const uz = P[a + 2]! - oz;
    const vx = P[b]! - ox;
    const vy = P[b + 1]! - oy;
    const vz = P[b + 2]! - oz;
    x += uy * vz - uz * vy;
    y += uz * vx - ux * vz;
    z += ux * vy - uy * vx;
  }
  out[0] = x;
  out[1] = y;
  out[2] = z;
  return out;
}

/** A face that keeps a smaller share of its area is flattened. */
const LEAST_AREA = 0.05;

/**
 * Whether a face is turned by more than a right angle or flattened. @param rest, moved its vector areas; one without
 * area at rest is never turned.
 */
export function isTurned(rest: Readonly<VectorArea>, moved: Readonly<VectorArea>): boolean {
  const area = Math.sqrt(rest[0] * rest[0] + rest[1] * rest[1] + rest[2] * rest[2]);
  if (area <= 1e-12) return false;
  if (rest[0] * moved[0] + rest[1] * moved[1] + rest[2] * moved[2] < 0) return true;
  return Math.sqrt(moved[0] * moved[0] + moved[1] * moved[1] + moved[2] * moved[2]) < LEAST_AREA * area;
}
const SMALLEST_AREA = 1e-12;
/** A face that uses a corner twice or has no area. */
export const isDegenerate = (P: Float32Array, corners: ArrayLike<number>): boolean =>
  faceArea(P, corners) < SMALLEST_AREA || new Set(Array.from(corners)).size < corners.length;
