import { mendFaces } from "../../edits/mend/mendFaces";
import { check } from "../check";
import { vertexCountOf } from "../../model/character";
import { finding } from "../finding";

/** Vertices that no face uses. */
export const meshLoose = check({
  id: "mesh.loose",
  title: "Loose vertices",
  station: "intake",
  unit: "vertices",
  measures: "vertices in no face",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "common practice, no source",
  mend: {
    says: (f) => `Removes the vertices of ${f.part} that no face uses; shapes and weights of the others stay.`,
    apply: (c, f) => mendFaces(c, f.part!, "loose"),
  },
  run: (character) =>
    character.parts.flatMap((part) => {
      const used = new Uint8Array(vertexCountOf(part));
      for (const v of part.corners) used[v] = 1;
      const loose = Array.from(used.keys()).filter((v) => !used[v]);
      return loose.length
        ? [
            finding({
              check: "mesh.loose",
              severity: "warn",
              part: part.name,
              vertices: loose,
              value: loose.length,
              unit: "vertices",
              limit: 0,
              message:
                `${part.name} has ${loose.length} vert${loose.length > 1 ? "ices" : "ex"} ` +
                "in no face; remove them before shapes are made.",
            }),
          ]
        : [];
    }),
});
