/** Area of a polygon by its vector area (Newell): exact for flat ones. @param P 3 x vertexCount. */
export const faceArea = (P: ArrayLike<number>, corners: ArrayLike<number>): number => Math.hypot(...faceVector(P, corners)) / 2;

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
