import { faceCountOf, type Part, type ShapeDelta } from "../model/character";
import { facesAt, type FacesOfVertex } from "../model/facesAt";
import { whileMoved } from "../model/movedBy";
import { faceVector, isTurned } from "./faceArea";

interface RestFaces {
  readonly around: FacesOfVertex;
  readonly vectors: readonly (readonly [number, number, number])[];
  readonly asked: Uint8Array;
}
const known = new WeakMap<Part, RestFaces>();

function restOf(part: Part): RestFaces {
  const found = known.get(part);
  if (found) return found;
  const vectors = Array.from({ length: faceCountOf(part) }, (_, f) => faceVector(part.positions, cornersOf(part, f)));
  const made = { around: facesAt(part), vectors, asked: new Uint8Array(vectors.length) };
  known.set(part, made);
  return made;
}

const cornersOf = ({ corners, faceStarts }: Part, f: number): Uint32Array =>
  corners.subarray(faceStarts[f]!, faceStarts[f + 1]!);

/** Faces that a movement at full turns over or collapses, by their vector area (Newell), in their order. */
export function facesTurnedBy(part: Part, delta: ShapeDelta): number[] {
  const { around, vectors, asked } = restOf(part);
  const near: number[] = [];
  for (const v of delta.vertices)
    for (let i = around.start[v]!; i < around.start[v + 1]!; i++) {
      const f = around.faces[i]!;
      if (asked[f]) continue;
      asked[f] = 1;
      near.push(f);
    }
  for (const f of near) asked[f] = 0;
  return whileMoved(part, delta, (moved) =>
    near.filter((f) => isTurned(vectors[f]!, faceVector(moved, cornersOf(part, f)))).sort((a, b) => a - b),
  );
}
