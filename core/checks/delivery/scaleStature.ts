import { scaleToUnit } from "../../edits/mend/mendStance";
import { check, fixedSpan } from "../check";
import { likelyUnit, statureOf } from "../../measure/stature";
import { finding } from "../finding";

export const scaleStature = check({
  id: "scale.stature",
  title: "Stature",
  station: "intake",
  unit: "m",
  measures:
    "stature in metres, with the slip of unit it looks like and one click that mends it; checks of sizes wait for that",
  severity: "error",
  limits: { "scale.stature": fixedSpan(0.4, 2.6) },
  source: "our own choice: 0.4 to 2.6 m",
  waitsFor: "stance",
  mend: {
    says: (f) =>
      f.value && likelyUnit(f.value)
        ? `Scales the whole character by ${Number((1 / likelyUnit(f.value)!.factor).toPrecision(4))}: ` +
          "mesh, skeleton, shapes and clips together."
        : null,
    apply: (c) => scaleToUnit(c),
  },
  run: (character, { limits }) => {
    const [lo, hi] = limits["scale.stature"];
    const stature = statureOf(character);
    if (stature >= lo && stature <= hi) return [];
    const slip = likelyUnit(stature);
    const hint = slip
      ? `It looks like ${slip.unit}: scale by ` +
        `${Number((1 / slip.factor).toPrecision(4))}; checks of sizes wait for that.`
      : "Check the export's unit.";
    return [
      finding({
        check: "scale.stature",
        severity: "error",
        value: stature,
        unit: "m",
        limit: stature < lo ? lo : hi,
        message: `The character stands ${Number(stature.toPrecision(4))} m tall. ${hint}`,
      }),
    ];
  },
});
