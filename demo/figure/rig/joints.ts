import { add, scale, type Vec3 } from "../../../core/math/vec3";
import { addScaled } from "../../modelling/fields";
import { armForward, FOREARM_LENGTH, onArm, SHOULDER, UPPER_ARM_LENGTH } from "../body/armForm";
import { FINGERS, THUMB, WRIST } from "../body/handForm";
import { onFoot } from "../body/legForm";
import { EYE_CENTRE } from "../head/headForm";
import { headToWorld, mirrored } from "../placement";

/** A joint of the figure, named as in VRM 1.0 where the standard has it. Metres, rest space. */
export interface FigureJoint {
  readonly name: string;
  readonly parent: string | null;
  readonly place: Vec3;
}

export const HIP: Vec3 = [0.086, 0.872, -0.004];
/** A little before the line from hip to ankle: the knee rests bent by 4 degrees. */
export const KNEE: Vec3 = [0.092, 0.48, -0.004];
export const ANKLE_JOINT: Vec3 = onFoot(0, 0, 0.076);
export const TOE_JOINT: Vec3 = onFoot(0.128, 0, 0.014);
export const ELBOW: Vec3 = onArm(UPPER_ARM_LENGTH, 0, armForward(UPPER_ARM_LENGTH) + 0.002);
/** Axis on which the jaw turns, in head units. */
export const JAW_HINGE: Vec3 = [0, -16, 8];
export const FINGER_NAMES = ["Index", "Middle", "Ring", "Little"] as const;
export const FINGER_BONES = ["Proximal", "Intermediate", "Distal"] as const;
export const THUMB_BONES = ["Metacarpal", "Proximal", "Distal"] as const;

const TRUNK: readonly FigureJoint[] = [
  { name: "hips", parent: null, place: [0, 0.93, -0.005] },
  { name: "spine", parent: "hips", place: [0, 1.03, -0.012] },
  { name: "chest", parent: "spine", place: [0, 1.13, -0.022] },
  { name: "upperChest", parent: "chest", place: [0, 1.235, -0.035] },
  /* before the spine, so that a small turn lifts the front of the chest */ {
    name: "breath",
    parent: "upperChest",
    place: [0, 1.2, -0.012],
  },
  /* on the seventh neck vertebra */ { name: "neck", parent: "upperChest", place: [0, 1.425, -0.045] },
  /* on the atlas */ { name: "head", parent: "neck", place: [0, 1.531, 0.012] },
  { name: "jaw", parent: "head", place: headToWorld(JAW_HINGE) },
  { name: "leftEye", parent: "head", place: headToWorld(EYE_CENTRE) },
  { name: "rightEye", parent: "head", place: headToWorld(mirrored(EYE_CENTRE)) },
  { name: "tongue1", parent: "jaw", place: headToWorld([0, -78, 26]) },
  { name: "tongue2", parent: "tongue1", place: headToWorld([0, -74, 46]) },
  { name: "tongue3", parent: "tongue2", place: headToWorld([0, -75, 64]) },
];

/** Joints of the left side, without the word for the side; a parent that stands in TRUNK is shared. */
const LEFT: readonly FigureJoint[] = [
  { name: "Shoulder", parent: "upperChest", place: [0.022, 1.362, 0.01] },
  { name: "UpperArm", parent: "Shoulder", place: SHOULDER },
  /* half-way down the straight line to the elbow */ {
    name: "UpperArmTwist",
    parent: "UpperArm",
    place: scale(add(SHOULDER, ELBOW), 0.5),
  },
  { name: "LowerArm", parent: "UpperArmTwist", place: ELBOW },
  {
    name: "LowerArmTwist",
    parent: "LowerArm",
    place: onArm(UPPER_ARM_LENGTH + FOREARM_LENGTH * 0.55, 0, armForward(UPPER_ARM_LENGTH + FOREARM_LENGTH * 0.55)),
  },
  { name: "Hand", parent: "LowerArmTwist", place: WRIST },
  ...FINGERS.flatMap((digit, i) =>
    FINGER_BONES.map((bone, k): FigureJoint => ({
      name: `${FINGER_NAMES[i]}${bone}`,
      parent: k === 0 ? "Hand" : `${FINGER_NAMES[i]}${FINGER_BONES[k - 1]}`,
      place: addScaled(digit.points[k]!, digit.ups[k]!, k === 0 ? -0.001 : 0),
    })),
  ),
  ...THUMB_BONES.map((bone, k): FigureJoint => ({
    name: `Thumb${bone}`,
    parent: k === 0 ? "Hand" : `Thumb${THUMB_BONES[k - 1]}`,
    place: THUMB.points[k]!,
  })),
  { name: "UpperLeg", parent: "hips", place: HIP },
  { name: "LowerLeg", parent: "UpperLeg", place: KNEE },
  { name: "Foot", parent: "LowerLeg", place: ANKLE_JOINT },
  { name: "Toes", parent: "Foot", place: TOE_JOINT },
];

const isTrunk = (name: string | null): boolean => TRUNK.some((j) => j.name === name);
const sided = (side: "left" | "right"): FigureJoint[] =>
  LEFT.map(({ name, parent, place }) => ({
    name: `${side}${name}`,
    parent: isTrunk(parent) ? parent : `${side}${parent}`,
    place: side === "left" ? place : mirrored(place),
  }));

export const JOINTS: readonly FigureJoint[] = [...TRUNK, ...sided("left"), ...sided("right")];
const indices = new Map(JOINTS.map((j, i) => [j.name, i]));
/** Place of a joint in JOINTS. Throws for a name that is not there. */
export function jointIndex(name: string): number {
  const i = indices.get(name);
  if (i === undefined) throw new Error(`jointIndex: no joint ${name}`);
  return i;
}
