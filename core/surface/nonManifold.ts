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
  const { start, ends } = spokesOf(corners, starts, faceCount, place);
  const out = new Map<number, number>();
  for (let v = 0; v + 1 < start.length; v++)
    if (start[v + 1]! > start[v]!) out.set(v, fansIn(ends.subarray(start[v]!, start[v + 1]!)));
  return out;
}

/** By place, the two neighbours of it in each of its faces: ends[start[v]] .. ends[start[v + 1]], in pairs. */
function spokesOf(
  corners: Uint32Array,
  starts: Uint32Array,
  faceCount: number,
  place: Uint32Array,
): { readonly start: Uint32Array; readonly ends: Uint32Array } {
  const start = new Uint32Array(place.length + 1);
  for (let k = starts[0]!; k < starts[faceCount]!; k++) start[place[corners[k]!]! + 1]! += 2;
  for (let v = 0; v < place.length; v++) start[v + 1]! += start[v]!;
  const next = start.slice();
  const ends = new Uint32Array(start[place.length]!);
  for (let f = 0; f < faceCount; f++) {
    const s = starts[f]!;
    const size = starts[f + 1]! - s;
    for (let k = 0; k < size; k++) {
      const v = place[corners[s + k]!]!;
      ends[next[v]!++] = place[corners[s + ((k + size - 1) % size)]!]!;
      ends[next[v]!++] = place[corners[s + ((k + 1) % size)]!]!;
    }
  }
  return { start, ends };
}

/** Ends of pairs, each once, and the end above each. */
const names: number[] = [];
const roots: number[] = [];

/** How many groups pairs fall into when those that share an end are together: union-find over the ends. */
function fansIn(ends: Uint32Array): number {
  names.length = 0;
  roots.length = 0;
  // few ends are looked through one by one, many by a table
  const table = ends.length > 64 ? new Map<number, number>() : null;
  const indexOf = (end: number): number => {
    const known = table ? (table.get(end) ?? -1) : names.indexOf(end);
    if (known >= 0) return known;
    table?.set(end, names.length);
    roots.push(names.length);
    return names.push(end) - 1;
  };
  const find = (i: number): number => {
    while (roots[i] !== i) i = roots[i] = roots[roots[i]!]!;
    return i;
  };
  for (let k = 0; k < ends.length; k += 2) {
    const a = find(indexOf(ends[k]!));
    roots[a] = find(indexOf(ends[k + 1]!));
  }
  let groups = 0;
  for (let i = 0; i < roots.length; i++) if (roots[i] === i) groups++;
  return groups;
}
