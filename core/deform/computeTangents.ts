/**
 * Tangents along the first texture coordinate, square to the normals, with the side of the bitangent (E. Lengyel,
 * Computing Tangent Space Basis Vectors for an Arbitrary
 * Mesh, 2001). Where texture coordinates say nothing, any direction in the surface.
 * @param uvs 2 x vertexCount. @param normals unit, 3 x vertexCount. @returns 4 x vertexCount: direction of length 1
 * and a side of 1 or -1, as glTF 2.0 has it.
 */
export function computeTangents(
  positions: ArrayLike<number>,
  uvs: ArrayLike<number>,
  triangles: Uint32Array,
  normals: ArrayLike<number>,
): Float32Array<ArrayBuffer> {
  const count = positions.length / 3;
  const along = new Float64Array(3 * count);
  const across = new Float64Array(3 * count);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const [bu, bv, cu, cv] = [
      uvs[2 * b]! - uvs[2 * a]!,
      uvs[2 * b + 1]! - uvs[2 * a + 1]!,
      uvs[2 * c]! - uvs[2 * a]!,
      uvs[2 * c + 1]! - uvs[2 * a + 1]!,
    ];
    const r = 1 / (bu * cv - cu * bv);
    if (!Number.isFinite(r)) continue;
    for (let k = 0; k < 3; k++) {
      const [eb, ec] = [positions[3 * b + k]! - positions[3 * a + k]!, positions[3 * c + k]! - positions[3 * a + k]!];
      for (const v of [a, b, c]) {
        along[3 * v + k]! += (eb * cv - ec * bv) * r;
        across[3 * v + k]! += (ec * bu - eb * cu) * r;
      }
    }
  }
  const out = new Float32Array(4 * count);
  for (let v = 0; v < count; v++) {
    const n = [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!] as const;
    const t = [along[3 * v]!, along[3 * v + 1]!, along[3 * v + 2]!];
    let lean = n[0] * t[0]! + n[1] * t[1]! + n[2] * t[2]!;
    let square = t.map((x, k) => x - lean * n[k]!);
    let l = Math.hypot(...square);
    if (l < 1e-12) {
      const aside = Math.abs(n[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
      lean = n[0] * aside[0]! + n[1] * aside[1]!;
      square = aside.map((x, k) => x - lean * n[k]!);
      l = Math.hypot(...square);
    }
    const side =
      (n[1] * t[2]! - n[2] * t[1]!) * across[3 * v]! +
      (n[2] * t[0]! - n[0] * t[2]!) * across[3 * v + 1]! +
      (n[0] * t[1]! - n[1] * t[0]!) * across[3 * v + 2]!;
    for (let k = 0; k < 3; k++) out[4 * v + k] = square[k]! / l;
    out[4 * v + 3] = side < 0 ? -1 : 1;
  }
  return out;
}
