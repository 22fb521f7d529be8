import { type Part, faceCountOf } from "../model/character";
import { placesOf } from "../model/places";

/** Faces that stand on the same corners as one before them; seams are looked through. */
export function facesTwice(part: Part): number[] {
  const place = placesOf(part.positions);
  const seen = new Set<string>();
  return Array.from({ length: faceCountOf(part) }, (_, f) => f).filter((f) => {
    const key = Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!), (v) => place[v]!)
      .sort((a, b) => a - b)
      .join();
    const twice = seen.has(key);
    seen.add(key);
    return twice;
  });
}
