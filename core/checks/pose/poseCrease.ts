import { amount, sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Corners that a limb gets outside its fold. */
export const poseCrease = sweepCheck({
  id: "pose.crease",
  title: "Sharp corners where a limb bends",
  station: "trials",
  unit: "degrees",
  measures: "99th percentile of what edges outside the fold are sharper by than at rest",
  severity: "warn",
  limits: { "pose.crease": amount(90) },
  source:
    "our own choice: after correction Oda's sharpest are the webs of the thumb and the fingers, up to 89 degrees; before it knuckles and elbows reach 117",
  run: (rows, limits) => {
    const worst = worstRow(rows, (r) => r.with.crease ?? 0);
    const limit = limits["pose.crease"];
    const value = worst?.with.crease ?? 0;
    if (!worst || limit === null || value <= limit) return null;
    return finding({
      check: "pose.crease",
      joint: worst.joint,
      severity: "warn",
      value,
      unit: "degrees",
      limit,
      message: `Edges outside the fold are ${value.toFixed(0)} degrees sharper than at rest at ${signed(worst.angle)} degrees of ${worst.joint} (${worst.motion}).`,
    });
  },
});
