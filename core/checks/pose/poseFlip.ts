import { sweepCheck } from "../check";
import { finding } from "../finding";
import { signed, worstRow } from "./worstRow";

/** Faces that a motion turns inside out. */
export const poseFlip = sweepCheck({
  id: "pose.flip",
  title: "Faces turned inside out where a limb bends",
  station: "trials",
  unit: "faces",
  measures: "triangles turned inside out",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "our own choice",
  run: (rows) => {
    const flips = worstRow(rows, (r) => r.with.flips);
    if (!flips || flips.with.flips === 0) return null;
    return finding({
      check: "pose.flip",
      joint: flips.joint,
      severity: "warn",
      value: flips.with.flips,
      unit: "faces",
      limit: 0,
      message:
        `${flips.with.flips === 1 ? "1 face turns" : `${flips.with.flips} faces turn`} ` +
        `inside out at ${signed(flips.angle)} degrees of ${flips.joint} (${flips.motion}).`,
    });
  },
});
