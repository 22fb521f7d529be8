import { faceCountOf, type Part } from "../model/character";
import { facesAt, type FacesOfVertex } from "../model/facesAt";
import { faceVector, type VectorArea } from "./faceArea";

/** Faces of a part at rest. */
export interface RestFaces {
  readonly around: FacesOfVertex;
  /** Vector area of each. */
  readonly vectors: readonly Readonly<VectorArea>[];
}
const known = new WeakMap<Part, RestFaces>();

/** They are made once for each part. */
export function restFaces(part: Part): RestFaces {
  const found = known.get(part);
  if (found) return found;
  const { positions, corners, faceStarts } = part;
  const vectors = Array.from({ length: faceCountOf(part) }, (_, f) =>
    faceVector(positions, corners, faceStarts[f]!, faceStarts[f + 1]!),
  );
  const made = { around: facesAt(part), vectors };
  known.set(part, made);
  return made;
}
