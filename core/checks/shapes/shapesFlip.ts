import { unturnShape } from "../../edits/mend/mendShapes";
import { check } from "../check";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Finding } from "../finding";
import { facesTurnedBy } from "../../measure/facesTurnedBy";

/** Faces that a shape at full turns by more than 90 degrees or shrinks to under 5 % of their area. */
export const shapesFlip = check({
  id: "shapes.flip",
  title: "Faces turned or collapsed by a shape",
  station: "shapes",
  unit: "faces",
  measures: "faces that a shape at full turns by more than 90° or shrinks under 5 % of their area",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "our own choice",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Evens the movement out round the faces of ${f.part} that ${f.shape} turns over, until none is left.`,
    apply: (c, f) => unturnShape(c, f.shape!, f.part!),
  },
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
});
