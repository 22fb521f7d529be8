import { faceCountOf, type Part } from "../model/character";
import { placesOf } from "../model/places";

/** Edges of a part's polygons between places (seams closed): key, faces on either side. */
export interface MeshEdges {
  readonly place: Uint32Array;
  /** Edge key (low x vertexCount + high) -> faces that use it. */
  readonly facesOfEdge: ReadonlyMap<number, readonly number[]>;
  readonly key: (a: number, b: number) => number;
}

export function meshEdges(part: Part): MeshEdges {
  const place = placesOf(part.positions);
  const n = place.length;
  const key = (a: number, b: number): number => Math.min(a, b) * n + Math.max(a, b);
  const facesOfEdge = new Map<number, number[]>();
  for (let f = 0; f < faceCountOf(part); f++) {
    const start = part.faceStarts[f]!;
    const end = part.faceStarts[f + 1]!;
    for (let k = start; k < end; k++) {
      const a = place[part.corners[k]!]!;
      const b = place[part.corners[k + 1 < end ? k + 1 : start]!]!;
      if (a === b) continue;
      const list = facesOfEdge.get(key(a, b));
      if (list) list.push(f);
      else facesOfEdge.set(key(a, b), [f]);
    }
  }
  return { place, facesOfEdge, key };
}
