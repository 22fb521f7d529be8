import { amount, sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Volume that a limb loses along a motion. */
export const poseVolume = sweepCheck({
  id: "pose.volume",
  title: "Volume lost where a limb bends",
  station: "trials",
  unit: "%",
  measures: "loss of a limb's volume over its range of motion",
  severity: "error",
  limits: { "pose.volume.warn": amount(-0.1), "pose.volume.error": amount(-0.2) },
  source: "our own choice",
  run: (rows, limits) => {
    const volume = worstRow(rows, (r) => -r.with.volume);
    const warn = limits["pose.volume.warn"];
    const error = limits["pose.volume.error"];
    if (!volume || warn === null || volume.with.volume >= warn) return null;
    const severe = error !== null && volume.with.volume < error;
    return finding({
      check: "pose.volume",
      joint: volume.joint,
      severity: severe ? "error" : "warn",
      value: 100 * volume.with.volume,
      unit: "%",
      limit: 100 * (severe ? error : warn),
      message:
        `${volume.joint} loses ${(-100 * volume.with.volume).toFixed(0)} % of its volume ` +
        `at ${signed(volume.angle)} degrees (${volume.motion}); sculpt a corrective there.`,
    });
  },
});
