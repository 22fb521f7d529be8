import type { FaceMeasure } from "../../measure/faceGauge";
import { compareFindings, finding, type Finding } from "../finding";
import type { Profile } from "../profile";
import { limitOf, type PairRow } from "./readPairs";

const UNITS: Readonly<Record<FaceMeasure, string>> = {
  lipCross: "mm",
  eyeThroughLid: "mm",
  stretch: "ratio",
  flips: "faces",
  lidGap: "mm",
  teethThrough: "mm",
  tongueThrough: "mm",
};
const CHECKS: Readonly<Record<FaceMeasure, string>> = {
  lipCross: "face.lip-cross",
  eyeThroughLid: "face.eye-through-lid",
  stretch: "pair.excess",
  flips: "pair.excess",
  lidGap: "face.lid-gap",
  teethThrough: "face.teeth-through",
  tongueThrough: "face.tongue-through",
};

const WORDS: Readonly<Record<FaceMeasure, (value: string) => string>> = {
  lipCross: (v) => `the lips cross by ${v} mm`,
  eyeThroughLid: (v) => `an eyeball comes ${v} mm through its lid`,
  stretch: (v) => `skin stretches to ${v} times its length`,
  flips: (v) => `${v} faces turn inside out`,
  lidGap: (v) => `the eye stays open by ${v} mm`,
  teethThrough: (v) => `teeth stand ${v} mm out of the skin`,
  tongueThrough: (v) => `the tongue stands ${v} mm out of the skin`,
};

/** The rows as findings. */
export const pairFindings = (rows: readonly PairRow[], profile: Profile): Finding[] =>
  rows
    .map((r): Finding =>
      finding({
        check: CHECKS[r.measure],
        severity: r.measure === "stretch" ? "warn" : "error",
        pair: [r.a, r.b],
        value: r.value,
        unit: UNITS[r.measure],
        limit: limitOf(profile, r.measure),
        message:
          `${r.a} and ${r.b} together: ` +
          `${WORDS[r.measure](r.measure === "flips" ? String(r.value) : r.value.toFixed(2))}, ` +
          `${r.measure === "flips" ? r.alone : r.alone.toFixed(2)} at most alone. Correct them where they meet.`,
      }),
    )
    .sort(compareFindings);
