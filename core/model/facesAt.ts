import { faceCountOf, vertexCountOf, type Part } from "./character";

/** The faces round vertex v are faces[start[v]] .. faces[start[v + 1]], in their order. */
export interface FacesOfVertex {
  readonly start: Uint32Array;
  readonly faces: Uint32Array;
}

/** By vertex the faces that it is a corner of. */
export function facesAt(part: Part): FacesOfVertex {
  const { corners, faceStarts } = part;
  const start = new Uint32Array(vertexCountOf(part) + 1);
  for (const v of corners) start[v + 1]!++;
  for (let v = 0; v + 1 < start.length; v++) start[v + 1]! += start[v]!;
  const next = start.slice();
  const faces = new Uint32Array(corners.length);
  for (let f = 0; f < faceCountOf(part); f++)
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++) faces[next[corners[k]!]!++] = f;
  return { start, faces };
}
