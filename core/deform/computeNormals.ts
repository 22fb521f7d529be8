import { faceCountOf, type Part } from "../model/character";

/** Faces sorted for computing normals: quads by themselves, everything else as triangles. */
export interface NormalFaces {
  readonly quads: Uint32Array;
  readonly triangles: Uint32Array;
}

/** Faces of a part, corners already exchanged for the vertex that stands for their place. */
export function normalFacesOf(part: Part, placeOf: Uint32Array | null): NormalFaces {
  const quads: number[] = [];
  const triangles: number[] = [];
  const at = (k: number): number => (placeOf ? placeOf[part.corners[k]!]! : part.corners[k]!);
  for (let f = 0; f < faceCountOf(part); f++) {
    const s = part.faceStarts[f]!;
    const e = part.faceStarts[f + 1]!;
    if (e - s === 4) quads.push(at(s), at(s + 1), at(s + 2), at(s + 3));
    else for (let k = s + 1; k + 1 < e; k++) triangles.push(at(s), at(k), at(k + 1));
  }
  return { quads: Uint32Array.from(quads), triangles: Uint32Array.from(triangles) };
}

/**
 * Smooth vertex normals: area-weighted mean of the faces round each place, a quad by the cross product of its diagonals.
 * @param out 3 x vertexCount, unit length; a vertex in no face gets 0 0 0.
 */
export function computeNormals(positions: Float32Array, faces: NormalFaces, placeOf: Uint32Array | null, out: Float32Array): void {
  out.fill(0);
  const { quads, triangles } = faces;
  for (let q = 0; q < quads.length; q += 4) {
    const a = 3 * quads[q]!;
    const b = 3 * quads[q + 1]!;
    const c = 3 * quads[q + 2]!;
    const d = 3 * quads[q + 3]!;
    const ux = positions[c]! - positions[a]!;
    const uy = positions[c + 1]! - positions[a + 1]!;
    const uz = positions[c + 2]! - positions[a + 2]!;
    const vx = positions[d]! - positions[b]!;
    const vy = positions[d + 1]! - positions[b + 1]!;
    const vz = positions[d + 2]! - positions[b + 2]!;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    out[a]! += nx;
    out[a + 1]! += ny;
    out[a + 2]! += nz;
    out[b]! += nx;
    out[b + 1]! += ny;
    out[b + 2]! += nz;
    out[c]! += nx;
    out[c + 1]! += ny;
    out[c + 2]! += nz;
    out[d]! += nx;
    out[d + 1]! += ny;
    out[d + 2]! += nz;
  }
  for (let t = 0; t < triangles.length; t += 3) {
    const a = 3 * triangles[t]!;
    const b = 3 * triangles[t + 1]!;
    const c = 3 * triangles[t + 2]!;
    const ux = positions[b]! - positions[a]!;
    const uy = positions[b + 1]! - positions[a + 1]!;
    const uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!;
    const vy = positions[c + 1]! - positions[a + 1]!;
    const vz = positions[c + 2]! - positions[a + 2]!;
    const nx = uy * vz - uz * vy;
    const ny = uz * vx - ux * vz;
    const nz = ux * vy - uy * vx;
    out[a]! += nx;
    out[a + 1]! += ny;
    out[a + 2]! += nz;
    out[b]! += nx;
    out[b + 1]! += ny;
    out[b + 2]! += nz;
    out[c]! += nx;
    out[c + 1]! += ny;
    out[c + 2]! += nz;
  }
  for (let i = 0; i < out.length; i += 3) {
    const x = out[i]!;
    const y = out[i + 1]!;
    const z = out[i + 2]!;
    const l = Math.sqrt(x * x + y * y + z * z);
    if (l === 0) continue;
    const s = 1 / l;
    out[i] = x * s;
    out[i + 1] = y * s;
    out[i + 2] = z * s;
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
