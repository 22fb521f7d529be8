import { mendFaces } from "../../edits/mend/mendFaces";
import { check } from "../check";
import { isDegenerate } from "../../measure/faceArea";
import { faceCountOf } from "../../model/character";
import { finding } from "../finding";

/** Faces with no area or with a corner used twice. */
export const meshDegenerate = check({
  id: "mesh.degenerate",
  title: "Faces without area",
  station: "intake",
  unit: "faces",
  measures: "faces under 1e-12 m² or with a corner used twice",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "our own choice: area under 1e-12 m2",
  mend: {
    says: (f) => `Takes out the faces of ${f.part} that have no area; a quad with one corner twice becomes a triangle.`,
    apply: (c, f) => mendFaces(c, f.part!, "degenerate"),
  },
  run: (character) =>
    character.parts.flatMap((part) => {
      const vertices: number[] = [];
      let count = 0;
      for (let f = 0; f < faceCountOf(part); f++) {
        const face = part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!);
        if (isDegenerate(part.positions, face)) {
          count++;
          vertices.push(face[0]!);
        }
      }
      return count
        ? [
            finding({
              check: "mesh.degenerate",
              severity: "error",
              part: part.name,
              vertices,
              value: count,
              unit: "faces",
              limit: 0,
              message: `${part.name} has ${count} face${count > 1 ? "s" : ""} without area; delete or merge them.`,
            }),
          ]
        : [];
    }),
});
