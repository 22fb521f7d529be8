import { packedSkin } from "./packedSkin";
import type { SkinBinding } from "../model/character";

let rows = new Float32Array(0);

/**
 * Linear blend skinning (Magnenat-Thalmann et al. 1988): p' = sum of w_j M_j p over the influences.
 * @param positions 3 x vertexCount, metres, bind space.
 * @param matrices 16 x jointCount, column-major, bind space to character space.
 * @param out 3 x vertexCount, character space; may be `positions` itself.
 */
export function skinLinear(
  positions: Float32Array,
  skin: SkinBinding,
  matrices: ArrayLike<number>,
  out: Float32Array,
): void {
  const { start, joints, weights } = packedSkin(skin);
  // only the three rows that matter, packed: the table of a whole skeleton stays in the fastest cache
  if (rows.length < (12 * matrices.length) / 16) rows = new Float32Array((12 * matrices.length) / 16);
  const m = rows;
  for (let a = 0, b = 0; a < matrices.length; a += 16, b += 12)
    for (let c = 0; c < 4; c++) {
      m[b + c] = matrices[a + 4 * c]!;
      m[b + 4 + c] = matrices[a + 4 * c + 1]!;
      m[b + 8 + c] = matrices[a + 4 * c + 2]!;
    }
  const vertexCount = positions.length / 3;
  for (let v = 0, n = 0, i = 0; v < vertexCount; v++, i += 3) {
    const x = positions[i]!;
    const y = positions[i + 1]!;
    const z = positions[i + 2]!;
    let px = 0;
    let py = 0;
    let pz = 0;
    for (const end = start[v + 1]!; n < end; n++) {
      const w = weights[n]!;
      const a = 12 * joints[n]!;
      px += w * (m[a]! * x + m[a + 1]! * y + m[a + 2]! * z + m[a + 3]!);
      py += w * (m[a + 4]! * x + m[a + 5]! * y + m[a + 6]! * z + m[a + 7]!);
      pz += w * (m[a + 8]! * x + m[a + 9]! * y + m[a + 10]! * z + m[a + 11]!);
    }
    out[i] = px;
    out[i + 1] = py;
    out[i + 2] = pz;
  }
}

/** Blended 3x3 part of one vertex's linear-skinning matrix, column-major. */
export function blendedLinear3(
  skin: SkinBinding,
  matrices: ArrayLike<number>,
  vertex: number,
  out = new Float64Array(9),
): Float64Array {
  out.fill(0);
  for (let n = vertex * skin.influenceCount, end = n + skin.influenceCount; n < end; n++) {
    const w = skin.weights[n]!;
    if (w === 0) continue;
    const a = 16 * skin.joints[n]!;
    for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) out[3 * c + r]! += w * matrices[a + 4 * c + r]!;
  }
  return out;
}
