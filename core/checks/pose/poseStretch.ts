import { amount, sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Skin that stretches along a motion. */
export const poseStretch = sweepCheck({
  id: "pose.stretch",
  title: "Stretched skin where a limb bends",
  station: "trials",
  unit: "ratio",
  measures: "99th percentile of edge length over rest length in the bending zone",
  severity: "warn",
  limits: { "pose.stretch": amount(2) },
  source: "our own choice",
  run: (rows, limits) => {
    const stretch = worstRow(rows, (r) => r.with.stretch);
    const limit = limits["pose.stretch"];
    if (!stretch || limit === null || stretch.with.stretch <= limit) return null;
    return finding({
      check: "pose.stretch",
      joint: stretch.joint,
      severity: "warn",
      value: stretch.with.stretch,
      unit: "ratio",
      limit,
      message:
        `Edges stretch to ${stretch.with.stretch.toFixed(2)} times their length at ` +
        `${signed(stretch.angle)} degrees of ${stretch.joint} (${stretch.motion}).`,
    });
  },
});
