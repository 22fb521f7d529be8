import type { Part, ShapeDelta } from "../../model/character";
import { faceVector, isTurned } from "../../measure/faceArea";
import { movedBy } from "../../model/movedBy";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Check, type Finding } from "../finding";

/** Faces that a shape at full turns by more than 90 degrees or shrinks to under 5 % of their area. */
export const shapesFlip: Check = {
  id: "shapes.flip",
  title: "Faces turned or collapsed by a shape",
  unit: "faces",
  source: "our own choice",
  run: (character) => {
    const out: Finding[] = [];
    for (const shape of shapesAsSeen(character))
      for (const delta of shape.deltas) {
        const part = character.parts[delta.part]!;
        const bad = facesTurnedBy(part, delta);
        const vertices = bad.map((f) => part.corners[part.faceStarts[f]!]!);
        if (bad.length)
          out.push(
            finding({
              check: "shapes.flip",
              severity: "warn",
              shape: shape.name,
              part: part.name,
              vertices,
              value: bad.length,
              unit: "faces",
              limit: 0,
              message:
                `${shape.label} at full turns ${bad.length} face${bad.length > 1 ? "s" : ""} ` +
                `of ${part.name} inside out or flattens them; smooth the shape there.`,
            }),
          );
      }
    return out;
  },
};

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
