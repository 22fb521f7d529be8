import { faceCountOf, type Part } from "../model/character";
import { meshEdges } from "./meshEdges";

/** Where a part's surface is none: edges with more than two faces, and vertices where pieces meet in a point. */
export function nonManifoldOf(part: Part): {
  readonly edgeCount: number;
  /** Ends of those edges. */
  readonly atEdges: ReadonlySet<number>;
  readonly pinched: readonly number[];
} {
  const { place, facesOfEdge } = meshEdges(part);
  const atEdges = new Set<number>();
  let edgeCount = 0;
  for (const [key, faces] of facesOfEdge)
    if (faces.length > 2) {
      edgeCount++;
      atEdges.add(Math.floor(key / place.length));
      atEdges.add(key % place.length);
    }
  const fans = vertexFans(part.corners, part.faceStarts, faceCountOf(part), place);
  const pinched = [...fans].filter(([v, count]) => count > 1 && !atEdges.has(v)).map(([v]) => v);
  return { edgeCount, atEdges, pinched };
}

/** Number of separate fans of faces at each place. */
function vertexFans(
  corners: Uint32Array,
  starts: Uint32Array,
  faceCount: number,
  place: Uint32Array,
): Map<number, number> {
  const spokes = new Map<number, [number, number][]>();
  for (let f = 0; f < faceCount; f++) {
    const s = starts[f]!;
    const size = starts[f + 1]! - s;
    for (let k = 0; k < size; k++) {
      const v = place[corners[s + k]!]!;
      const list = spokes.get(v) ?? [];
      list.push([place[corners[s + ((k + size - 1) % size)]!]!, place[corners[s + ((k + 1) % size)]!]!]);
      spokes.set(v, list);
    }
  }
  const out = new Map<number, number>();
  for (const [v, list] of spokes) {
    const root = new Map<number, number>();
    const find = (x: number): number => {
      for (let up = root.get(x) ?? x; up !== x; up = root.get(x) ?? x) {
        const above = root.get(up) ?? up;
        root.set(x, above); // shortens the way for the next one
        x = above;
      }
      return x;
    };
    for (const [a, b] of list) {
      const ra = find(a);
      const rb = find(b);
      root.set(ra, rb);
      root.set(rb, rb);
    }
    out.set(v, new Set(list.flat().map(find)).size);
  }
  return out;
}
