import { amount, sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Skin over a joint's tip that does not keep its distance from the bone. */
export const poseBone = sweepCheck({
  id: "pose.bone",
  title: "Skin over bone that sank or rose",
  station: "trials",
  unit: "mm",
  measures: "mean change of the distance between bone and the skin over the tip of an elbow, a knee or a knuckle",
  severity: "warn",
  limits: { "pose.bone": amount(20) },
  source: "our own choice: corrected elbows and knees of the demo stay within 19 mm, uncorrected ones reach 23",
  run: (rows, limits) => {
    const worst = worstRow(rows, (r) => r.with.bone ?? 0);
    const limit = limits["pose.bone"];
    const value = worst?.with.bone ?? 0;
    if (!worst || limit === null || value <= limit) return null;
    return finding({
      check: "pose.bone",
      joint: worst.joint,
      severity: "warn",
      value,
      unit: "mm",
      limit,
      message: `The skin over the tip is ${value.toFixed(0)} mm off its distance from the bone at ${signed(worst.angle)} degrees of ${worst.joint} (${worst.motion}).`,
    });
  },
});
