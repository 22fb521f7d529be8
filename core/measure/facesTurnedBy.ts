import { IndexSet } from "../math/indexSet";
import type { Part, ShapeDelta } from "../model/character";
import { whileMoved } from "../model/movedBy";
import { faceVector, isTurned, type VectorArea } from "./faceArea";
import { restFaces } from "./restFaces";

const asking = new WeakMap<Part, IndexSet>();

/** Faces that a movement at full turns over or collapses, by their vector area (Newell), in their order. */
export function facesTurnedBy(part: Part, delta: ShapeDelta): number[] {
  const { around, vectors } = restFaces(part);
  const asked = asking.get(part) ?? new IndexSet(vectors.length);
  asking.set(part, asked);
  asked.clear();
  for (const v of delta.vertices)
    for (let i = around.start[v]!; i < around.start[v + 1]!; i++) asked.add(around.faces[i]!);
  const { corners, faceStarts } = part;
  const now: VectorArea = [0, 0, 0];
  return whileMoved(part, delta, (moved) =>
    Array.from(asked.members())
      .filter((f) => isTurned(vectors[f]!, faceVector(moved, corners, faceStarts[f]!, faceStarts[f + 1]!, now)))
      .sort((a, b) => a - b),
  );
}
