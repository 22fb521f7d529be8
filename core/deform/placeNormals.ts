import type { Part } from "../model/character";
import { placesOf } from "../model/places";
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
