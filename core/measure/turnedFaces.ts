import type { SkinBinding } from "../model/character";
import { blendedLinear3 } from "../deform/skinLinear";

/**
 * Twice the area of each chosen triangle as it is bound, as a vector along its normal, turned as the skin itself turns
 * in a pose: what its posed normal should agree with.
 * @param chosen triangle indices. @param bound places in bind space, 3 x vertexCount. @param matrices 16 x jointCount
 * of the pose. @returns 3 per chosen triangle.
 */
export function carriedNormals(
  triangles: Uint32Array,
  chosen: Uint32Array,
  bound: Float32Array,
  skin: SkinBinding | null,
  matrices: ArrayLike<number> | null,
): Float32Array {
  const out = new Float32Array(3 * chosen.length);
  const m = new Float64Array(9);
  const n: [number, number, number] = [0, 0, 0];
  chosen.forEach((t, i) => {
    const [a, b, c] = [3 * triangles[3 * t]!, 3 * triangles[3 * t + 1]!, 3 * triangles[3 * t + 2]!];
    areaVector(bound, a, b, c, n);
    const size = Math.hypot(...n);
    let [x, y, z] = n;
    if (skin && matrices) {
      [x, y, z] = [0, 0, 0];
      for (let k = 0; k < 3; k++) {
        blendedLinear3(skin, matrices, triangles[3 * t + k]!, m);
        x += m[0]! * n[0] + m[3]! * n[1] + m[6]! * n[2];
        y += m[1]! * n[0] + m[4]! * n[1] + m[7]! * n[2];
        z += m[2]! * n[0] + m[5]! * n[1] + m[8]! * n[2];
      }
    }
    const length = Math.hypot(x, y, z);
    if (length > 0) out.set([(x * size) / length, (y * size) / length, (z * size) / length], 3 * i);
  });
  return out;
}

/** Twice the area of a triangle as a vector along its normal. @param a, b, c offsets of its corners in the places. */
export function areaVector(P: ArrayLike<number>, a: number, b: number, c: number, out: [number, number, number]): void {
  const [ux, uy, uz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
  const [vx, vy, vz] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
}

/**
 * Triangles turned inside out: the posed normal points against the bound normal carried along by the skin's own turn.
 * @param chosen triangle indices to look at, or null for all.
 * @param matrices 16 x jointCount, or null where nothing is posed (shapes only). @param known the carried normals of
 * the chosen triangles, where they were made before (`carriedNormals`).
 */
export function turnedFaces(
  triangles: Uint32Array,
  chosen: Uint32Array | null,
  bound: Float32Array,
  posed: Float32Array,
  skin: SkinBinding | null,
  matrices: ArrayLike<number> | null,
  known?: Float32Array,
): Uint32Array {
  const asked = chosen ?? Uint32Array.from({ length: triangles.length / 3 }, (_, t) => t);
  const carried = known ?? carriedNormals(triangles, asked, bound, skin, matrices);
  const n: [number, number, number] = [0, 0, 0];
  return asked.filter((t, i) => {
    areaVector(posed, 3 * triangles[3 * t]!, 3 * triangles[3 * t + 1]!, 3 * triangles[3 * t + 2]!, n);
    return carried[3 * i]! * n[0] + carried[3 * i + 1]! * n[1] + carried[3 * i + 2]! * n[2] < 0;
  });
}
