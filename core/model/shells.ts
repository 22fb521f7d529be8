import { faceCountOf, type Part } from "./character";
import { placesOf } from "./places";

/**
 * Number of the connected shell each vertex belongs to: the lowest vertex of the shell. @param throughSeams vertices at
 * one place count as one.
 */
export function shellsOf(part: Part, throughSeams = false): Uint32Array {
  const root = throughSeams
    ? placesOf(part.positions).slice()
    : Uint32Array.from({ length: part.positions.length / 3 }, (_, v) => v);
  const find = (v: number): number => {
    let r = v;
    while (root[r] !== r) r = root[r]!;
    while (root[v] !== r) {
      const up = root[v]!;
      root[v] = r;
      v = up;
    }
    return r;
  };
  for (let f = 0; f < faceCountOf(part); f++) {
    const first = find(part.corners[part.faceStarts[f]!]!);
    for (let k = part.faceStarts[f]! + 1; k < part.faceStarts[f + 1]!; k++) {
      const other = find(part.corners[k]!);
      if (other !== first) root[Math.max(other, first)] = Math.min(other, first);
    }
  }
  return root.map((_, v) => find(v));
}
