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
 * Smooth vertex normals: area-weighted mean of the faces round each place, a quad by the cross product of its
 * diagonals.
 * @param out 3 x vertexCount, unit length; a vertex in no face gets 0 0 0.
 */
export function computeNormals(
  positions: Float32Array,
  faces: NormalFaces,
  placeOf: Uint32Array | null,
  out: Float32Array,
): void {
  out.fill(0);
  addFaces(positions, faces, out);
  for (let i = 0; i < out.length; i += 3) normalizeAt(out, i);
  if (placeOf) for (let v = 0; v < placeOf.length; v++) if (placeOf[v] !== v) copyNormal(out, placeOf[v]!, v);
}

/** Faces round some vertices, for renewing the normals of these alone. */
export interface FacesAt {
  readonly faces: NormalFaces;
  readonly vertices: Uint32Array;
  /** Other vertices of these faces. */
  readonly rim: Uint32Array;
}
/** @param vertices the ones that stand for their place. */
export function normalFacesAt(all: NormalFaces, vertices: ReadonlySet<number>): FacesAt {
  const rim = new Set<number>();
  const chosen = (list: Uint32Array, corners: number): Uint32Array => {
    const out: number[] = [];
    for (let f = 0; f < list.length; f += corners) {
      const face = list.subarray(f, f + corners);
      if (!face.some((v) => vertices.has(v))) continue;
      out.push(...face);
      for (const v of face) if (!vertices.has(v)) rim.add(v);
    }
    return Uint32Array.from(out);
  };
  return {
    faces: { quads: chosen(all.quads, 4), triangles: chosen(all.triangles, 3) },
    vertices: Uint32Array.from(vertices),
    rim: Uint32Array.from(rim),
  };
}

/**
 * Brings the normals of some vertices up to date and leaves all others. @param normals computed before for the whole
 * part, 3 x vertexCount.
 */
export function renewNormals(
  positions: Float32Array,
  { faces, vertices, rim }: FacesAt,
  placeOf: Uint32Array | null,
  normals: Float32Array,
): void {
  const kept = Float32Array.from({ length: 3 * rim.length }, (_, i) => normals[3 * rim[(i / 3) | 0]! + (i % 3)]!);
  for (const v of vertices) normals.fill(0, 3 * v, 3 * v + 3);
  addFaces(positions, faces, normals);
  rim.forEach((v, i) => normals.set(kept.subarray(3 * i, 3 * i + 3), 3 * v));
  for (const v of vertices) normalizeAt(normals, 3 * v);
  if (placeOf) for (const v of vertices) if (placeOf[v] !== v) copyNormal(normals, placeOf[v]!, v);
}

const copyNormal = (out: Float32Array, from: number, to: number): void =>
  void out.copyWithin(3 * to, 3 * from, 3 * from + 3);

/** Makes three numbers of a list one of length 1; none stays none. */
export function normalizeAt(out: Float32Array, i: number): void {
  const x = out[i]!;
  const y = out[i + 1]!;
  const z = out[i + 2]!;
  const l = Math.sqrt(x * x + y * y + z * z);
  if (l === 0) return;
  const s = 1 / l;
  out[i] = x * s;
  out[i + 1] = y * s;
  out[i + 2] = z * s;
}

/** Adds the normals of faces, as long as twice their area, to their corners. @param out 3 x vertexCount. */
export function addFaces(positions: Float32Array, { quads, triangles }: NormalFaces, out: Float32Array): void {
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
}
