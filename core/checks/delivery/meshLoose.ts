import { vertexCountOf } from "../../model/character";
import { finding, type Check } from "../finding";

/** Vertices that no face uses. */
export const meshLoose: Check = {
  id: "mesh.loose",
  title: "Loose vertices",
  unit: "vertices",
  source: "common practice, no source",
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
};
