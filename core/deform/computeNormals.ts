/**
 * Smooth vertex normals: area-weighted mean of the triangles round each place.
 * Vertices that share a place (seams of texture or colour) share a normal through `placeOf`.
 * @param out 3 x vertexCount, unit length; a vertex in no face gets 0 0 0.
 */
export function computeNormals(positions: Float32Array, triangles: Uint32Array, placeOf: Uint32Array | null, out: Float32Array): void {
  out.fill(0);
  for (let t = 0; t < triangles.length; t += 3) {
    const ia = triangles[t]!;
    const ib = triangles[t + 1]!;
    const ic = triangles[t + 2]!;
    const a = 3 * ia;
    const b = 3 * ib;
    const c = 3 * ic;
    const ax = positions[a]!;
    const ay = positions[a + 1]!;
    const az = positions[a + 2]!;
    const ux = positions[b]! - ax;
    const uy = positions[b + 1]! - ay;
    const uz = positions[b + 2]! - az;
    const vx = positions[c]! - ax;
    const vy = positions[c + 1]! - ay;
    const vz = positions[c + 2]! - az;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    const pa = placeOf ? 3 * placeOf[ia]! : a;
    const pb = placeOf ? 3 * placeOf[ib]! : b;
    const pc = placeOf ? 3 * placeOf[ic]! : c;
    out[pa]! += nx;
    out[pa + 1]! += ny;
    out[pa + 2]! += nz;
    out[pb]! += nx;
    out[pb + 1]! += ny;
    out[pb + 2]! += nz;
    out[pc]! += nx;
    out[pc + 1]! += ny;
    out[pc + 2]! += nz;
  }
  for (let i = 0; i < out.length; i += 3) {
    const l = Math.sqrt(out[i]! * out[i]! + out[i + 1]! * out[i + 1]! + out[i + 2]! * out[i + 2]!);
    if (l > 0) {
      out[i]! /= l;
      out[i + 1]! /= l;
      out[i + 2]! /= l;
    }
  }
  if (placeOf)
    for (let v = 0; v < placeOf.length; v++) {
      const p = placeOf[v]!;
      if (p !== v) {
        out[3 * v] = out[3 * p]!;
        out[3 * v + 1] = out[3 * p + 1]!;
        out[3 * v + 2] = out[3 * p + 2]!;
      }
    }
}
