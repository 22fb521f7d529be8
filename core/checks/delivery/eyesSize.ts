import { check, span } from "../check";
import { eyeballsOf } from "../../measure/eyeballs";
import { length, sub } from "../../math/vec3";
import { finding } from "../finding";

/** Distance between the eyeballs' centres. */
export const eyesSpacing = check({
  id: "eyes.spacing",
  title: "Distance between the eyes",
  station: "intake",
  unit: "mm",
  measures: "distance between the fitted eyeballs' centres",
  severity: "warn",
  limits: { "eyes.spacing": span(52, 78) },
  source: "Dodgson 2004, Variation and extrema of human interpupillary distance: adults 52 to 78 mm, mean 63",
  waitsFor: "stance and size",
  run: (character, { limits }) => {
    const range = limits["eyes.spacing"];
    const [left, right] = eyeballsOf(character);
    if (!range || !left || !right) return [];
    const mm = 1000 * length(sub(left.centre, right.centre));
    if (mm >= range[0] && mm <= range[1]) return [];
    return [
      finding({
        check: "eyes.spacing",
        severity: "warn",
        part: character.parts[left.part]!.name,
        value: mm,
        unit: "mm",
        limit: mm < range[0] ? range[0] : range[1],
        message:
          `The eyes stand ${mm.toFixed(1)} mm apart; people's stand ` +
          `${range[0]} to ${range[1]} mm. Check the head's scale.`,
      }),
    ];
  },
});

/** Diameter of the fitted eyeballs. */
export const eyesDiameter = check({
  id: "eyes.diameter",
  title: "Diameter of the eyeballs",
  station: "intake",
  unit: "mm",
  measures: "diameter of the fitted eyeballs; the cornea is left out of the fit",
  severity: "warn",
  limits: { "eyes.diameter": span(22, 27) },
  source: "about 24 mm, from memory",
  waitsFor: "stance and size",
  run: (character, { limits }) => {
    const range = limits["eyes.diameter"];
    if (!range) return [];
    return eyeballsOf(character).flatMap((eye) => {
      const mm = 2000 * eye.radius;
      if (mm >= range[0] && mm <= range[1]) return [];
      return [
        finding({
          check: "eyes.diameter",
          severity: "warn",
          part: character.parts[eye.part]!.name,
          value: mm,
          unit: "mm",
          limit: mm < range[0] ? range[0] : range[1],
          message:
            `${character.parts[eye.part]!.name} is ${mm.toFixed(1)} ` +
            "mm across; an eyeball has about 24 mm. Check its scale.",
        }),
      ];
    });
  },
});
