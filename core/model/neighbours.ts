import { faceCountOf, type Part } from "./character";
import { placesOf } from "./places";

/** Edge neighbours of every vertex in packed form: those of v are list[start[v] .. start[v + 1]). */
export interface Neighbours {
  readonly start: Uint32Array;
  readonly list: Uint32Array;
}

const known = new WeakMap<Part, Neighbours>();
/**
 * Neighbours along polygon edges, ascending; vertices at one place (seams) see each other's neighbours. Found once for
 * a part.
 */
export function neighboursOf(part: Part): Neighbours {
  const found = known.get(part) ?? findNeighbours(part);
  known.set(part, found);
  return found;
}

function findNeighbours(part: Part): Neighbours {
  const place = placesOf(part.positions);
  const count = place.length;
  // both directions of every edge as one number, sorted, so that equal ones meet
  const pairs = new Float64Array(2 * part.corners.length);
  let n = 0;
  for (let f = 0; f < faceCountOf(part); f++) {
    const s = part.faceStarts[f]!;
    const e = part.faceStarts[f + 1]!;
    for (let k = s; k < e; k++) {
      const a = place[part.corners[k]!]!;
      const b = place[part.corners[k + 1 < e ? k + 1 : s]!]!;
      if (a === b) continue;
      pairs[n++] = a * count + b;
      pairs[n++] = b * count + a;
    }
  }
  const sorted = pairs.subarray(0, n).sort();
  const own = new Uint32Array(count);
  const at = new Uint32Array(count);
  const all = new Uint32Array(n);
  let kept = 0;
  for (let i = 0; i < n; i++) {
    if (i > 0 && sorted[i] === sorted[i - 1]) continue;
    const a = Math.floor(sorted[i]! / count);
    if (own[a]!++ === 0) at[a] = kept;
    all[kept++] = sorted[i]! - a * count;
  }
  const start = new Uint32Array(count + 1);
  for (let v = 0; v < count; v++) start[v + 1] = start[v]! + own[place[v]!]!;
  const list = new Uint32Array(start[count]!);
  for (let v = 0; v < count; v++) list.set(all.subarray(at[place[v]!]!, at[place[v]!]! + own[place[v]!]!), start[v]!);
  return { start, list };
}
