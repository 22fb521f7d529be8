/** Sums of what triangles say of tangents at their corners, kept from one surface to the next. */
export class TangentSums {
  private readonly along: Float64Array;
  private readonly across: Float64Array;

  /** @param uvs 2 x vertexCount. @param triangles 3 vertices each. */
  constructor(
    private readonly uvs: ArrayLike<number>,
    private readonly triangles: Uint32Array,
  ) {
    this.along = new Float64Array((3 * uvs.length) / 2);
    this.across = new Float64Array((3 * uvs.length) / 2);
  }

  /**
   * Tangents at some vertices (see computeTangents). @param round all triangles round them, rising. @returns four
   * numbers for each of the vertices.
   */
  at(
    positions: ArrayLike<number>,
    normals: ArrayLike<number>,
    vertices: Uint32Array,
    round: Uint32Array,
  ): Float32Array<ArrayBuffer> {
    const { along, across, triangles } = this;
    for (const t of round) this.add(positions, 3 * t);
    const out = new Float32Array(4 * vertices.length);
    vertices.forEach((v, i) => this.tangentAt(normals, 3 * v, out, 4 * i));
    for (const t of round)
      for (let c = 3 * t; c < 3 * t + 3; c++)
        for (let k = 3 * triangles[c]!, end = k + 3; k < end; k++) along[k] = across[k] = 0;
    return out;
  }

  private add(positions: ArrayLike<number>, at: number): void {
    const { uvs, triangles, along, across } = this;
    const a = triangles[at]!;
    const b = triangles[at + 1]!;
    const c = triangles[at + 2]!;
    const bu = uvs[2 * b]! - uvs[2 * a]!;
    const bv = uvs[2 * b + 1]! - uvs[2 * a + 1]!;
    const cu = uvs[2 * c]! - uvs[2 * a]!;
    const cv = uvs[2 * c + 1]! - uvs[2 * a + 1]!;
    const r = 1 / (bu * cv - cu * bv);
    if (!Number.isFinite(r)) return;
    for (let k = 0; k < 3; k++) {
      const eb = positions[3 * b + k]! - positions[3 * a + k]!;
      const ec = positions[3 * c + k]! - positions[3 * a + k]!;
      const x = (eb * cv - ec * bv) * r;
      const y = (ec * bu - eb * cu) * r;
      along[3 * a + k]! += x;
      along[3 * b + k]! += x;
      along[3 * c + k]! += x;
      across[3 * a + k]! += y;
      across[3 * b + k]! += y;
      across[3 * c + k]! += y;
    }
  }

  /** @param v, o offsets of the vertex and of where its tangent is written. */
  private tangentAt(normals: ArrayLike<number>, v: number, out: Float32Array, o: number): void {
    const { along, across } = this;
    const [nx, ny, nz] = [normals[v]!, normals[v + 1]!, normals[v + 2]!];
    const [tx, ty, tz] = [along[v]!, along[v + 1]!, along[v + 2]!];
    let lean = nx * tx + ny * ty + nz * tz;
    let [x, y, z] = [tx - lean * nx, ty - lean * ny, tz - lean * nz];
    let l = Math.sqrt(x * x + y * y + z * z);
    if (l < 1e-12) {
      const [ax, ay] = Math.abs(nx) < 0.9 ? [1, 0] : [0, 1];
      lean = nx * ax + ny * ay;
      [x, y, z] = [ax - lean * nx, ay - lean * ny, -lean * nz];
      l = Math.sqrt(x * x + y * y + z * z);
    }
    const side =
      (ny * tz - nz * ty) * across[v]! + (nz * tx - nx * tz) * across[v + 1]! + (nx * ty - ny * tx) * across[v + 2]!;
    out[o] = x / l;
    out[o + 1] = y / l;
    out[o + 2] = z / l;
    out[o + 3] = side < 0 ? -1 : 1;
  }
}

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
  const upTo = (count: number): Uint32Array => Uint32Array.from({ length: count }, (_, i) => i);
  const sums = new TangentSums(uvs, triangles);
  return sums.at(positions, normals, upTo(positions.length / 3), upTo(triangles.length / 3));
}
