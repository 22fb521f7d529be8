import type { SkinBinding } from "../model/character";

/**
 * Linear blend skinning (Magnenat-Thalmann et al. 1988): p' = sum of w_j M_j p over the influences.
 * @param positions 3 x vertexCount, metres, bind space.
 * @param matrices 16 x jointCount, column-major, bind space to character space.
 * @param out 3 x vertexCount, character space; may be `positions` itself.
 */
export function skinLinear(positions: Float32Array, skin: SkinBinding, matrices: ArrayLike<number>, out: Float32Array): void {
  const { influenceCount, joints, weights } = skin;
  const m = Float32Array.from(matrices);
  const vertexCount = positions.length / 3;
  for (let v = 0, k = 0, i = 0; v < vertexCount; v++, k += influenceCount, i += 3) {
    const x = positions[i]!;
    const y = positions[i + 1]!;
    const z = positions[i + 2]!;
    let px = 0;
    let py = 0;
    let pz = 0;
    for (let n = k; n < k + influenceCount; n++) {
      const w = weights[n]!;
      if (w === 0) continue;
      const a = joints[n]! << 4;
      px += w * (m[a]! * x + m[a + 4]! * y + m[a + 8]! * z + m[a + 12]!);
      py += w * (m[a + 1]! * x + m[a + 5]! * y + m[a + 9]! * z + m[a + 13]!);
      pz += w * (m[a + 2]! * x + m[a + 6]! * y + m[a + 10]! * z + m[a + 14]!);
    }
    out[i] = px;
    out[i + 1] = py;
    out[i + 2] = pz;
  }
}

/** Blended 3x3 part of one vertex's linear-skinning matrix, column-major. */
export function blendedLinear3(skin: SkinBinding, matrices: ArrayLike<number>, vertex: number, out = new Float64Array(9)): Float64Array {
  out.fill(0);
  for (let n = vertex * skin.influenceCount, end = n + skin.influenceCount; n < end; n++) {
    const w = skin.weights[n]!;
    if (w === 0) continue;
    const a = 16 * skin.joints[n]!;
    for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) out[3 * c + r]! += w * matrices[a + 4 * c + r]!;
  }
  return out;
}
