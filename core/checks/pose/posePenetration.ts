import { amount, sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Skin that goes into skin along a motion. */
export const posePenetration = sweepCheck({
  id: "pose.penetration",
  title: "Skin in skin where a limb bends",
  station: "trials",
  unit: "mm",
  measures: "deepest overlap of skin in skin at an angle, beyond what is there at rest",
  severity: "warn",
  limits: { "pose.penetration": amount(5) },
  source: "our own choice",
  run: (rows, limits) => {
    const depth = worstRow(rows, (r) => r.with.depth);
    const limit = limits["pose.penetration"];
    if (!depth || limit === null || depth.with.depth <= limit) return null;
    return finding({
      check: "pose.penetration",
      joint: depth.joint,
      severity: "warn",
      value: depth.with.depth,
      unit: "mm",
      limit,
      message:
        `Skin goes ${depth.with.depth.toFixed(1)} mm into skin at ` +
        `${signed(depth.angle)} degrees of ${depth.joint} (${depth.motion}).`,
    });
  },
});
