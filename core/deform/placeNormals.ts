import type { Part } from "../model/character";
import { placesOf } from "../model/places";
import { smoothPlaces } from "../model/smoothPlaces";
import { computeNormals, normalFacesOf } from "./computeNormals";

type NormalsAt = (positions: Float32Array) => Float32Array<ArrayBuffer>;
const known = new WeakMap<Part, NormalsAt>();

function normalsOver(part: Part, places: Uint32Array): NormalsAt {
  const faces = normalFacesOf(part, places);
  return (positions) => {
    const out = new Float32Array(positions.length);
    computeNormals(positions, faces, places, out);
    return out;
  };
}

/**
 * Smooth unit normals of one part at any places of its vertices, doubled vertices as one; its tables are made once.
 * @returns from places to normals, 3 x vertexCount each.
 */
export function placeNormals(part: Part): NormalsAt {
  const normalsAt = known.get(part) ?? normalsOver(part, placesOf(part.positions));
  known.set(part, normalsAt);
  return normalsAt;
}

/**
 * Unit normals of a part as it is drawn, hard edges kept, at any places of its vertices; upward where a vertex has no
 * face. @param part without corner look (see drawnPart).
 */
export function drawnNormals(part: Part): NormalsAt {
  const normalsAt = normalsOver(part, smoothPlaces(part));
  return (positions) => {
    const out = normalsAt(positions);
    for (let i = 0; i < out.length; i += 3) if (out[i] === 0 && out[i + 1] === 0 && out[i + 2] === 0) out[i + 1] = 1;
    return out;
  };
}
