import { coverage, COVERED_SYSTEMS } from "../../shapes/coverage/coverage";
import { shapeMeaning } from "../../shapes/shapeMeaning";
import { finding, type Check, type Finding } from "../finding";

/** How many names are told of those missing. */
const TOLD = 6;

/**
 * Action units, visemes, expressions and presets that neither a shape nor a mix does. A character none of whose shapes
 * is any of these is not a face for them, and is not asked.
 */
export const shapesCoverage: Check = {
  id: "shapes.coverage",
  title: "Units, visemes, expressions and presets that are missing",
  unit: "",
  source:
    "ISO/IEC 14496-2, face animation: visemes and expressions; " +
    "VRM 1.0: expression presets; Ekman & Friesen 1978: action units",
  run: (character, { profile }) => {
    const limit = profile.limits["shapes.coverage"];
    if (limit === null || !character.shapes.some((s) => shapeMeaning(s.name))) return [];
    const items = coverage(character);
    return COVERED_SYSTEMS.flatMap((system): Finding[] => {
      const of = items.filter((i) => i.system === system);
      const missing = of.filter((i) => i.state === "missing" || i.state === "half");
      if (missing.length <= limit) return [];
      const names = missing
        .slice(0, TOLD)
        .map((i) => (i.state === "half" ? `${i.key} (one side)` : i.key))
        .join(", ");
      return [
        finding({
          check: "shapes.coverage",
          severity: "note",
          value: missing.length,
          unit: "",
          limit,
          message:
            `${missing.length} of ${of.length} ${system} ${missing.length === 1 ? "has" : "have"} no shape ` +
            `and no mix: ${names}${missing.length > TOLD ? " and others" : ""}. ` +
            "Coverage shows which can be begun as a mix.",
        }),
      ];
    });
  },
};
