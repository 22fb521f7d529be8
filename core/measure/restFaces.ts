import { faceCountOf, type Part } from "../model/character";
import { facesAt, type FacesOfVertex } from "../model/facesAt";
import { faceVector } from "./faceArea";

/** Faces of a part at rest. */
export interface RestFaces {
  readonly around: FacesOfVertex;
  /** Vector area of each. */
  readonly vectors: readonly (readonly [number, number, number])[];
}
const known = new WeakMap<Part, RestFaces>();

/** They are made once for each part. */
export function restFaces(part: Part): RestFaces {
  const found = known.get(part);
  if (found) return found;
  const vectors = Array.from({ length: faceCountOf(part) }, (_, f) => faceVector(part.positions, cornersOf(part, f)));
  const made = { around: facesAt(part), vectors };
  known.set(part, made);
  return made;
}

export const cornersOf = ({ corners, faceStarts }: Part, f: number): Uint32Array =>
  corners.subarray(faceStarts[f]!, faceStarts[f + 1]!);
