import type { Part } from "../model/character";
import { placesOf } from "../model/places";
import { smoothPlaces } from "../model/smoothPlaces";
import { computeNormals, normalFacesOf } from "./computeNormals";

type NormalsAt = (positions: Float32Array) => Float32Array;
const known = new WeakMap<Part, NormalsAt>();

/** Smooth unit normals of one part at any places of its vertices, doubled vertices as one; its tables are made once. @returns from places to normals, 3 x vertexCount each. */
export function placeNormals(part: Part): NormalsAt {
  const made = known.get(part);
  if (made) return made;
  const places = placesOf(part.positions);
  const faces = normalFacesOf(part, places);
  const normalsAt: NormalsAt = (positions) => {
    const out = new Float32Array(positions.length);
    computeNormals(positions, faces, places, out);
    return out;
  };
  known.set(part, normalsAt);
  return normalsAt;
}

/** Unit normals of a part as it is drawn, hard edges kept, at any places of its vertices; upward where a vertex has no face. @param part without corner look (see drawnPart). */
export function drawnNormals(part: Part): (positions: Float32Array) => Float32Array<ArrayBuffer> {
  const places = smoothPlaces(part);
  const faces = normalFacesOf(part, places);
  return (positions) => {
    const out = new Float32Array(positions.length);
    computeNormals(positions, faces, places, out);
    for (let i = 0; i < out.length; i += 3) if (out[i] === 0 && out[i + 1] === 0 && out[i + 2] === 0) out[i + 1] = 1;
    return out;
  };
}
