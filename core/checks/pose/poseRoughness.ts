import { amount, sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Correctives whose movement alternates from vertex to vertex in the pose. */
export const poseRoughness = sweepCheck({
  id: "pose.roughness",
  title: "Rough movement of correctives",
  station: "trials",
  unit: "mm",
  measures: "99th percentile of what alternates between neighbours in the movement that correctives make in the pose",
  severity: "warn",
  limits: { "pose.roughness": amount(1) },
  source: "our own choice: three times the limit of a shape's noise, as a bent joint's vertices lie apart",
  run: (rows, limits) => {
    const worst = worstRow(rows, (r) => r.with.roughness ?? 0);
    const limit = limits["pose.roughness"];
    const value = worst?.with.roughness ?? 0;
    if (!worst || limit === null || value <= limit) return null;
    return finding({
      check: "pose.roughness",
      joint: worst.joint,
      severity: "warn",
      value,
      unit: "mm",
      limit,
      message: `What correctives move alternates by ${value.toFixed(1)} mm between neighbours at ${signed(worst.angle)} degrees of ${worst.joint} (${worst.motion}).`,
    });
  },
});
