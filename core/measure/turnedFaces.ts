import type { SkinBinding } from "../model/character";
import { blendedLinear3 } from "../deform/skinLinear";

/**
 * Triangles turned inside out: the posed normal points against the rest normal carried along by the skin's own turn.
 * @param chosen triangle indices to look at, or null for all.
 * @param matrices 16 x jointCount, or null where nothing is posed (shapes only).
 */
export function turnedFaces(triangles: Uint32Array, chosen: Uint32Array | null, rest: Float32Array, posed: Float32Array, skin: SkinBinding | null, matrices: ArrayLike<number> | null): Uint32Array {
  const out: number[] = [];
  const m = new Float64Array(9);
  const normal = (P: Float32Array, t: number): [number, number, number] => {
    const a = 3 * triangles[3 * t]!;
    const b = 3 * triangles[3 * t + 1]!;
    const c = 3 * triangles[3 * t + 2]!;
    const ux = P[b]! - P[a]!;
    const uy = P[b + 1]! - P[a + 1]!;
    const uz = P[b + 2]! - P[a + 2]!;
    const vx = P[c]! - P[a]!;
    const vy = P[c + 1]! - P[a + 1]!;
    const vz = P[c + 2]! - P[a + 2]!;
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  };
  const count = chosen ? chosen.length : triangles.length / 3;
  for (let i = 0; i < count; i++) {
    const t = chosen ? chosen[i]! : i;
    const n0 = normal(rest, t);
    const n1 = normal(posed, t);
    let [x, y, z] = n0;
    if (skin && matrices) {
      let sx = 0;
      let sy = 0;
      let sz = 0;
      for (let k = 0; k < 3; k++) {
        blendedLinear3(skin, matrices, triangles[3 * t + k]!, m);
        sx += m[0]! * n0[0] + m[3]! * n0[1] + m[6]! * n0[2];
        sy += m[1]! * n0[0] + m[4]! * n0[1] + m[7]! * n0[2];
        sz += m[2]! * n0[0] + m[5]! * n0[1] + m[8]! * n0[2];
      }
      [x, y, z] = [sx, sy, sz];
    }
    if (x * n1[0] + y * n1[1] + z * n1[2] < 0) out.push(t);
  }
  return Uint32Array.from(out);
}
