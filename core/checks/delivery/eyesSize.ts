import { eyeballsOf } from "../../measure/eyeballs";
import { length, sub } from "../../math/vec3";
import { finding, type Check } from "../finding";

/** Distance between the eyeballs' centres. */
export const eyesSpacing: Check = {
  id: "eyes.spacing",
  title: "Distance between the eyes",
  unit: "mm",
  source: "Dodgson 2004, Variation and extrema of human interpupillary distance: adults 52 to 78 mm, mean 63",
  run: (character, { profile }) => {
    const range = profile.limits["eyes.spacing"];
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
};

/** Diameter of the fitted eyeballs. */
export const eyesDiameter: Check = {
  id: "eyes.diameter",
  title: "Diameter of the eyeballs",
  unit: "mm",
  source: "about 24 mm, from memory",
  run: (character, { profile }) => {
    const range = profile.limits["eyes.diameter"];
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
};
