import { computeNormals } from "../deform/computeNormals";
import { makeRig } from "../deform/rig";
import type { Part } from "../model/character";
import { onlyPart } from "../model/onlyPart";

/** Normals of one part at given places, doubled vertices as one. @returns 3 x vertexCount. */
export function placeNormals(part: Part, positions: Float32Array): Float32Array {
  const rig = makeRig(onlyPart(part));
  const out = new Float32Array(positions.length);
  computeNormals(positions, rig.normalFaces[0]!, rig.placeOf[0]!, out);
  return out;
}
