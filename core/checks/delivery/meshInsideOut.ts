import { mendFaces } from "../../edits/mend/mendFaces";
import { check } from "../check";
import { shellsInsideOut } from "../../measure/shellsInsideOut";
import { finding } from "../finding";

export const meshInsideOut = check({
  id: "mesh.inside-out",
  title: "Closed shells that face inward",
  station: "intake",
  unit: "shells",
  measures: "closed shells with a negative signed volume",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "signed volume of a closed surface (divergence theorem)",
  mend: {
    says: (f) => `Turns the inward shells of ${f.part} round.`,
    apply: (c, f) => mendFaces(c, f.part!, "inside-out"),
  },
  run: (character) =>
    character.parts.flatMap((part) => {
      const shells = shellsInsideOut(part);
      return shells.length
        ? [
            finding({
              check: "mesh.inside-out",
              severity: "error",
              part: part.name,
              vertices: shells,
              value: shells.length,
              unit: "shells",
              limit: 0,
              message:
                `${shells.length} closed shell${shells.length > 1 ? "s" : ""} of ${part.name} ` +
                `face${shells.length > 1 ? "" : "s"} inward; turn the faces round.`,
            }),
          ]
        : [];
    }),
});
