import { fromAxisAngle } from "../../core/math/quat";
import type { Quat } from "../../core/math/vec3";

/** A skeleton of another made-up studio: other words, sides at the end, arms at T. */
const WORDS: readonly (readonly [RegExp, string])[] = [
  [/^hips$/, "Base"],
  [/^spine$/, "Waist"],
  [/^chest$/, "Ribs"],
  [/^upperChest$/, "RibsTop"],
  [/^neck$/, "Nape"],
  [/^head$/, "Skull"],
  [/Shoulder$/, "Collar"],
  [/UpperArmTwist$/, "ArmUpRoll"],
  [/^breath$/, "Rise"],
  [/UpperArm$/, "ArmUp"],
  [/LowerArmTwist$/, "ArmRoll"],
  [/LowerArm$/, "ArmLow"],
  [/Hand$/, "Palm"],
  [/UpperLeg$/, "LegUp"],
  [/LowerLeg$/, "LegLow"],
  [/Foot$/, "Heel"],
  [/Toes$/, "ToeRoot"],
  [/Proximal$/, "A"],
  [/Intermediate$/, "B"],
  [/Distal$/, "C"],
  [/Metacarpal$/, "Root"],
];

/** The foreign name of a joint. */
export function foreignName(joint: string): string {
  const side = joint.startsWith("left") ? "_Lt" : joint.startsWith("right") ? "_Rt" : "";
  const bare = side === "_Lt" ? joint.slice(4) : side === "_Rt" ? joint.slice(5) : joint;
  for (const [pattern, word] of WORDS)
    if (pattern.test(joint))
      return `${/^(Index|Middle|Ring|Little|Thumb)/.test(bare) ? bare.replace(/(Proximal|Intermediate|Distal|Metacarpal)$/, "") : ""}${word}${side}`;
  return `${bare}${side}`;
}

const RAISED = 40;
/**
 * Turn of a joint's surroundings in world axes that leads from that studio's rest, arms at T, to the figure's own at A.
 */
export function fromT(joint: string): Quat {
  const side = joint.startsWith("left") ? 1 : joint.startsWith("right") ? -1 : 0;
  const isArm = /Arm|Hand|Index|Middle|Ring|Little|Thumb/.test(joint);
  return side !== 0 && isArm ? fromAxisAngle([0, 0, 1], -side * RAISED) : [0, 0, 0, 1];
}
