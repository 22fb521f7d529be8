import { NO_JOINT, type Skeleton } from "../model/character";
import { worldMatrices, type Pose } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { conjugate, fromAxisAngle, rotate, toEulerXYZ } from "../math/quat";
import { cross, degrees, dot, length, normalize, scale, sub, type Vec3 } from "../math/vec3";
import { boneLabel, sideOfBone } from "../names/humanoidBones";
import type { HumanoidMap } from "./humanoidMap";

/** One direction in which a joint is moved through its range. */
export interface JointMotion {
  /** `joint name/motion name`. */
  readonly id: string;
  readonly joint: string;
  readonly bone: string;
  /** bend, raise, forward, twist, turn, tilt, nod, open, ... */
  readonly name: string;
  readonly label: string;
  /** Unit axis in the joint's own frame; a positive turn goes the way the name says. */
  readonly axis: Vec3;
  /** Degrees from rest. */
  readonly min: number;
  readonly max: number;
  /**
   * A limb turned out of the way below rest, as an examiner does (the other leg while a thigh is drawn in): its degrees
   * for each degree of this motion.
   */
  readonly aside?: { readonly joint: string; readonly axis: Vec3; readonly share: number };
}

const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];

/** Pose that turns one joint by an angle in degrees along a motion, with what must be out of its way. */
export const motionPose = (motion: Pick<JointMotion, "joint" | "axis" | "aside">, deg: number): Pose => ({
  ...(motion.aside && deg < 0
    ? { [motion.aside.joint]: toEulerXYZ(fromAxisAngle(motion.aside.axis, motion.aside.share * deg)) }
    : {}),
  [motion.joint]: toEulerXYZ(fromAxisAngle(motion.axis, deg)),
});

interface Draft {
  readonly name: string;
  /** Axis in character space at rest. */
  readonly axis: Vec3;
  readonly min: number;
  readonly max: number;
}

/**
 * Directions and limits of every mapped joint, axes found from the rest pose so that any joint frames will do.
 * Limits: AAOS ranges (Greene & Heckman 1994), from memory; trunk and neck shared evenly among their joints.
 * The collar bone, the toes and the sharing are common practice without a source.
 */
export function jointMotions(skeleton: Skeleton, map: HumanoidMap): JointMotion[] {
  const world = worldMatrices(skeleton, {});
  const at = (bone: string): Vec3 | null => {
    const j = map.jointOfBone.get(bone);
    return j === undefined ? null : translationOf(world, 16 * j);
  };
  const toward = (from: string, to: string): Vec3 | null => {
    const a = at(from);
    const b = at(to);
    return a && b && length(sub(b, a)) > 1e-6 ? normalize(sub(b, a)) : null;
  };
  const spineCount = ["spine", "chest", "upperChest"].filter((b) => map.jointOfBone.has(b)).length || 1;
  const neckCount = ["neck", "head"].filter((b) => map.jointOfBone.has(b)).length || 1;
  const out: JointMotion[] = [];
  skeleton.joints.forEach((joint, j) => {
    const bone = map.boneOfJoint[j];
    if (!bone) return;
    for (const draft of draftsFor(bone, toward, spineCount, neckCount)) {
      const turns = draft.name === "twist" ? twistJoint(skeleton, map, j) : j;
      const frame = decomposeTRS(world, 16 * turns).q;
      const axis = snap(rotate(conjugate(frame), draft.axis));
      out.push({
        id: `${joint.name}/${draft.name}`,
        joint: skeleton.joints[turns]!.name,
        bone,
        name: draft.name,
        label: `${boneLabel(bone)} ${draft.name}`,
        axis,
        min: Math.round(draft.min),
        max: Math.round(draft.max),
      });
    }
  });
  const drawnIn = (m: JointMotion): boolean => /^(left|right)UpperLeg$/.test(m.bone) && m.name === "out";
  return out.map((m) => {
    const other = drawnIn(m) ? out.find((o) => drawnIn(o) && o.bone !== m.bone) : undefined;
    return other ? { ...m, aside: { joint: other.joint, axis: other.axis, share: -other.max / -m.min } } : m;
  });
}

/** Arm bones and the bone that ends them; a joint between the two is there to spread the twist. */
const ARM_ENDS: Readonly<Record<string, string>> = { UpperArm: "LowerArm", LowerArm: "Hand" };

/**
 * The joint that twists an arm bone: the last one between it and the next bone, or itself when nothing lies between.
 */
function twistJoint(skeleton: Skeleton, map: HumanoidMap, joint: number): number {
  const bone = map.boneOfJoint[joint]!;
  const side = sideOfBone(bone) ?? "";
  const end = map.jointOfBone.get(`${side}${ARM_ENDS[bone.slice(side.length)] ?? ""}`);
  if (end === undefined) return joint;
  const above = skeleton.joints[end]!.parent;
  for (let j = above; j !== NO_JOINT; j = skeleton.joints[j]!.parent) if (j === joint) return above;
  return joint;
}

/** Rounds an axis to the nearest frame axis when it is within 3 degrees of it. */
const snap = (axis: Vec3): Vec3 => {
  for (const k of [0, 1, 2])
    if (Math.abs(axis[k]!) > Math.cos((3 * Math.PI) / 180))
      return [0, 1, 2].map((i) => (i === k ? Math.sign(axis[k]!) : 0)) as unknown as Vec3;
  return axis;
};

/** What the drafts of a bone's motions are made from. */
interface Limb {
  /** 1 on the left and in the middle, -1 on the right. */
  readonly out: number;
  /** Unit direction from one bone of the same side to another at rest; null where one is missing. */
  readonly along: (a: string, b: string) => Vec3 | null;
  /** Joints that share the trunk's ranges, and the neck's. */
  readonly spineCount: number;
  readonly neckCount: number;
}

function draftsFor(
  bone: string,
  toward: (a: string, b: string) => Vec3 | null,
  spineCount: number,
  neckCount: number,
): Draft[] {
  const side = sideOfBone(bone);
  const kind = side ? bone.slice(side.length) : bone;
  const along: Limb["along"] = (a, b) => toward(`${side}${a}`, `${side}${b}`);
  const limb: Limb = { out: side === "right" ? -1 : 1, along, spineCount, neckCount };
  return DRAFTS[kind]?.(limb) ?? fingerDrafts(kind, handDirection(limb), limb.out);
}

const upperArm = ({ along, out }: Limb): Vec3 => along("UpperArm", "LowerArm") ?? [out, 0, 0];
const thigh = ({ along }: Limb): Vec3 => along("UpperLeg", "LowerLeg") ?? [0, -1, 0];
const handDirection = (limb: Limb): Vec3 => limb.along("LowerArm", "Hand") ?? upperArm(limb);

const trunk = ({ spineCount: n }: Limb): Draft[] => [
  { name: "forward", axis: X, min: -25 / n, max: 80 / n },
  { name: "tilt", axis: Z, min: -35 / n, max: 35 / n },
  { name: "turn", axis: Y, min: -45 / n, max: 45 / n },
];
const nape = ({ neckCount: n }: Limb): Draft[] => [
  { name: "nod", axis: X, min: -45 / n, max: 45 / n },
  { name: "tilt", axis: Z, min: -45 / n, max: 45 / n },
  { name: "turn", axis: Y, min: -60 / n, max: 60 / n },
];

/** By bone without its side. */
const DRAFTS: Readonly<Record<string, (limb: Limb) => Draft[]>> = {
  spine: trunk,
  chest: trunk,
  upperChest: trunk,
  neck: nape,
  head: nape,
  jaw: () => [{ name: "open", axis: X, min: 0, max: 25 }],
  Eye: ({ out }) => [
    { name: "down", axis: X, min: -30, max: 45 },
    { name: "out", axis: scale(Y, out), min: -45, max: 45 },
  ],
  Shoulder: ({ out }) => [{ name: "raise", axis: scale(Z, out), min: -10, max: 35 }],
  UpperArm: (limb) => {
    const d = upperArm(limb);
    const hang = degrees(Math.acos(Math.max(-1, Math.min(1, -d[1]))));
    return [
      { name: "raise", axis: scale(Z, limb.out), min: -hang, max: 180 - hang },
      { name: "forward", axis: normalize(cross(d, Z)), min: -60, max: 110 },
      { name: "twist", axis: scale(d, limb.out), min: -70, max: 70 },
    ];
  },
  LowerArm: (limb) => {
    const upper = upperArm(limb);
    const lower = limb.along("LowerArm", "Hand") ?? upper;
    return [
      { name: "bend", axis: hinge(upper, lower, normalize(cross(upper, Z))), min: 0, max: 150 },
      { name: "twist", axis: scale(lower, limb.out), min: -80, max: 80 },
    ];
  },
  Hand: (limb) => {
    const d = handDirection(limb);
    const palm = normalize(sub([0, -1, 0], scale(d, dot([0, -1, 0], d))));
    return [
      { name: "bend", axis: normalize(cross(d, palm)), min: -70, max: 80 },
      { name: "swing", axis: scale(palm, -limb.out), min: -30, max: 20 },
    ];
  },
  UpperLeg: (limb) => [
    { name: "forward", axis: [-1, 0, 0], min: -30, max: 120 },
    { name: "out", axis: scale(Z, limb.out), min: -30, max: 45 },
    { name: "twist", axis: scale(thigh(limb), -limb.out), min: -45, max: 45 },
  ],
  LowerLeg: (limb) => {
    const upper = thigh(limb);
    const lower = limb.along("LowerLeg", "Foot") ?? upper;
    return [{ name: "bend", axis: hinge(upper, lower, X), min: 0, max: 135 }];
  },
  Foot: () => [{ name: "point", axis: X, min: -20, max: 50 }],
  Toes: () => [{ name: "lift", axis: [-1, 0, 0], min: -20, max: 50 }],
};

/**
 * Axis of a hinge: the limb plane's normal when the rest bend shows it, turned to agree with the natural way; else the
 * fallback.
 */
function hinge(upper: Vec3, lower: Vec3, fallback: Vec3): Vec3 {
  const n = cross(upper, lower);
  const bend = degrees(Math.asin(Math.min(1, length(n))));
  if (bend < 2) return fallback;
  const unit = normalize(n);
  return Math.abs(dot(unit, fallback)) < 0.8 ? fallback : dot(unit, fallback) < 0 ? scale(unit, -1) : unit;
}

function fingerDrafts(kind: string, hand: Vec3, out: number): Draft[] {
  const palm = normalize(sub([0, -1, 0], scale(hand, dot([0, -1, 0], hand))));
  const bend = normalize(cross(hand, palm));
  if (kind.startsWith("Thumb")) {
    const max = kind.endsWith("Metacarpal") ? 30 : kind.endsWith("Proximal") ? 50 : 80;
    // across the palm, toward the little finger's side
    const inward = normalize([0, 1, 2].map((k) => 0.5 * hand[k]! + out * bend[k]!) as unknown as Vec3);
    return [{ name: "bend", axis: normalize(cross(inward, palm)), min: 0, max }];
  }
  const max = kind.endsWith("Proximal") ? 90 : kind.endsWith("Intermediate") ? 100 : 90;
  return /^(Index|Middle|Ring|Little)/.test(kind) ? [{ name: "bend", axis: bend, min: 0, max }] : [];
}
