import type { Part, ShapeDelta } from "../model/character";
import { movedBy } from "../model/movedBy";
import { isTurned, faceVector } from "./faceArea";

/** Faces that a movement at full turns over or collapses, by their vector area (Newell). */
export function facesTurnedBy(part: Part, delta: ShapeDelta): number[] {
  const { moved, touched } = movedBy(part, delta);
  const { positions: rest, corners, faceStarts: starts } = part;
  const turned: number[] = [];
  for (let f = 0; f + 1 < starts.length; f++) {
    let near = false;
    for (let k = starts[f]!; k < starts[f + 1]! && !near; k++) near = touched[corners[k]!] === 1;
    if (!near) continue;
    const own = corners.subarray(starts[f]!, starts[f + 1]!);
    if (isTurned(faceVector(rest, own), faceVector(moved, own))) turned.push(f);
  }
  return turned;
}
