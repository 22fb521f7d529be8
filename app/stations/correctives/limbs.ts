import type { JointMotion } from "~core/skeleton/jointMotions";

export const LIMBS = [
  "left arm",
  "right arm",
  "left leg",
  "right leg",
  "trunk and neck",
  "face",
  "left hand",
  "right hand",
] as const;
export type Limb = (typeof LIMBS)[number];

export function limbOf(motion: JointMotion): Limb {
  const side = motion.bone.startsWith("left") ? "left" : motion.bone.startsWith("right") ? "right" : null;
  if (!side) return motion.bone === "jaw" ? "face" : "trunk and neck";
  if (/Eye/.test(motion.bone)) return "face";
  if (/Thumb|Index|Middle|Ring|Little/.test(motion.bone)) return `${side} hand`;
  return /Leg|Foot|Toes/.test(motion.bone) ? `${side} leg` : `${side} arm`;
}

/** A motion's name within its limb: "lower arm bend". */
export const shortLabel = (motion: JointMotion): string => motion.label.replace(/^(left|right) /, "");
