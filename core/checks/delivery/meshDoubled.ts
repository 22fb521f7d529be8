import { mendFaces } from "../../edits/mend/mendFaces";
import { check } from "../check";
import { facesTwice } from "../../measure/facesTwice";
import { finding } from "../finding";

export const meshDoubled = check({
  id: "mesh.doubled",
  title: "Faces twice in one place",
  station: "intake",
  unit: "faces",
  measures: "faces on the same corners as another face, seams looked through",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "our own choice",
  mend: {
    says: (f) => `Deletes the copies of faces of ${f.part}; the first of each stays.`,
    apply: (c, f) => mendFaces(c, f.part!, "doubled"),
  },
  run: (character) =>
    character.parts.flatMap((part) => {
      const vertices = facesTwice(part).map((f) => part.corners[part.faceStarts[f]!]!);
      return vertices.length
        ? [
            finding({
              check: "mesh.doubled",
              severity: "error",
              part: part.name,
              vertices,
              value: vertices.length,
              unit: "faces",
              limit: 0,
              message:
                `${part.name} has ${vertices.length} face${vertices.length > 1 ? "s" : ""} ` +
                "lying on another face; delete the copies.",
            }),
          ]
        : [];
    }),
});
