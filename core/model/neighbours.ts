import { faceCountOf, type Part } from "./character";
import { placesOf } from "./places";

/** Edge neighbours of every vertex in packed form: those of v are list[start[v] .. start[v + 1]). */
export interface Neighbours {
  readonly start: Uint32Array;
  readonly list: Uint32Array;
}

/** Neighbours along polygon edges; vertices at one place (seams) see each other's neighbours. */
export function neighboursOf(part: Part): Neighbours {
  const place = placesOf(part.positions);
  const count = place.length;
  const sets: Set<number>[] = Array.from({ length: count }, () => new Set());
  for (let f = 0; f < faceCountOf(part); f++) {
    const s = part.faceStarts[f]!;
    const e = part.faceStarts[f + 1]!;
    for (let k = s; k < e; k++) {
      const a = place[part.corners[k]!]!;
      const b = place[part.corners[k + 1 < e ? k + 1 : s]!]!;
      if (a !== b) {
        sets[a]!.add(b);
        sets[b]!.add(a);
      }
    }
  }
  const start = new Uint32Array(count + 1);
  for (let v = 0; v < count; v++) start[v + 1] = start[v]! + sets[place[v]!]!.size;
  const list = new Uint32Array(start[count]!);
  for (let v = 0; v < count; v++) list.set([...sets[place[v]!]!], start[v]!);
  return { start, list };
}
