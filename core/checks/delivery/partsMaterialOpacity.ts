import { mendMaterial } from "../../edits/mend/mendParts";
import { check } from "../check";
import { finding } from "../finding";

const SEE_THROUGH = new Set(["lash", "tear line"]);
const CARD_WORDS = /hair.?card|lash|eyelash|tear|wetness/i;

/** Materials of lashes, tear lines and hair cards that would draw as solid sheets. */
export const partsMaterialOpacity = check({
  id: "parts.material-opacity",
  title: "Opaque lash, tear line or hair-card material",
  station: "intake",
  unit: "materials",
  measures: "lash, tear line or hair-card materials that are opaque",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "common practice, no source",
  mend: { says: (f) => `Sets the opaque materials of ${f.part} to blend.`, apply: (c, f) => mendMaterial(c, f.part!) },
  run: (character) =>
    character.parts.flatMap((part) =>
      [...new Set(part.groups.map((g) => g.material))].flatMap((m) => {
        const material = character.materials[m]!;
        const card =
          CARD_WORDS.test(material.name) ||
          (SEE_THROUGH.has(part.kind) && /lash|tear/i.test(part.name) && !/duct|caruncle/i.test(part.name));
        if (material.opacity !== "opaque" || !card) return [];
        return [
          finding({
            check: "parts.material-opacity",
            severity: "warn",
            part: part.name,
            value: 1,
            unit: "materials",
            limit: 0,
            message: `Material ${material.name} of ${part.name} is opaque; set it to mask or blend.`,
          }),
        ];
      }),
    ),
});
