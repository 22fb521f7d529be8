/** Humanoid bones of the VRM 1.0 specification (humanoid.md, "List of humanoid bones"), required ones marked. */
export const REQUIRED_BONES = [
  "hips",
  "spine",
  "head",
  "leftUpperLeg",
  "leftLowerLeg",
  "leftFoot",
  "rightUpperLeg",
  "rightLowerLeg",
  "rightFoot",
  "leftUpperArm",
  "leftLowerArm",
  "leftHand",
  "rightUpperArm",
  "rightLowerArm",
  "rightHand",
] as const;

const FINGERS = ["Index", "Middle", "Ring", "Little"] as const;
const fingerBones = (side: "left" | "right"): string[] => [
  `${side}ThumbMetacarpal`,
  `${side}ThumbProximal`,
  `${side}ThumbDistal`,
  ...FINGERS.flatMap((f) => [`${side}${f}Proximal`, `${side}${f}Intermediate`, `${side}${f}Distal`]),
];

export const HUMANOID_BONES: readonly string[] = [
  "hips",
  "spine",
  "chest",
  "upperChest",
  "neck",
  "head",
  "leftEye",
  "rightEye",
  "jaw",
  "leftUpperLeg",
  "leftLowerLeg",
  "leftFoot",
  "leftToes",
  "rightUpperLeg",
  "rightLowerLeg",
  "rightFoot",
  "rightToes",
  "leftShoulder",
  "leftUpperArm",
  "leftLowerArm",
  "leftHand",
  "rightShoulder",
  "rightUpperArm",
  "rightLowerArm",
  "rightHand",
  ...fingerBones("left"),
  ...fingerBones("right"),
];

export type Side = "left" | "right";
export const sideOfBone = (bone: string): Side | null =>
  bone.startsWith("left") ? "left" : bone.startsWith("right") ? "right" : null;
export const mirrorBone = (bone: string): string =>
  bone.startsWith("left") ? `right${bone.slice(4)}` : bone.startsWith("right") ? `left${bone.slice(5)}` : bone;
/** "leftUpperArm" -> "left upper arm". */
export const boneLabel = (bone: string): string => bone.replace(/([A-Z])/g, " $1").toLowerCase();
