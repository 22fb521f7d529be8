import { amount, check } from "../check";
import { coverage, COVERED_SYSTEMS } from "../../shapes/coverage/coverage";
import { shapeMeaning } from "../../names/shapeMeaning";
import { finding, type Finding } from "../finding";

/** How many names are told of those missing. */
const TOLD = 6;

/**
 * Action units, visemes, expressions and presets that neither a shape nor a mix does. A character none of whose shapes
 * is any of these is not a face for them, and is not asked.
 */
export const shapesCoverage = check({
  id: "shapes.coverage",
  title: "Units, visemes, expressions and presets that are missing",
  station: "shapes",
  unit: "",
  measures:
    "action units, MPEG-4 visemes and expressions, VRM presets with no " +
    "shape and no mix, for each system; asked of faces that have any of them",
  severity: "note",
  limits: { "shapes.coverage": amount({ film: 0, crowd: null }) },
  waitsFor: "stance and size",
  source:
    "ISO/IEC 14496-2, face animation: visemes and expressions; " +
    "VRM 1.0: expression presets; Ekman & Friesen 1978: action units",
  run: (character, { limits }) => {
    const limit = limits["shapes.coverage"];
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
});
