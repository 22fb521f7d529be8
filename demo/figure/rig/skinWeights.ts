import { add, dot, normalize, sub, type Vec3 } from "../../../core/math/vec3";
import { mix, smoothstep } from "../../modelling/blend";
import { addScaled } from "../../modelling/fields";
import { ARM, FOREARM_LENGTH, onArm, SHOULDER, UPPER_ARM_LENGTH } from "../body/armForm";
import { FINGERS, HAND, THUMB, WRIST } from "../body/handForm";
import { FOOT } from "../body/legForm";
import { NECK_ROWS, PATCH_ROWS, type Skin } from "../skin/buildSkin";
import type { SkinTag } from "../skin/skinTags";
import { distanceAlong } from "./distanceAlong";
import { ANKLE_JOINT, FINGER_BONES, FINGER_NAMES, jointIndex, JOINTS, KNEE, THUMB_BONES, TOE_JOINT } from "./joints";

/** Weights of one vertex: joint and share, largest first, at most four, sum 1. */
export type VertexWeights = readonly (readonly [joint: number, share: number])[];

const LEAST = 0.004;
const MOST = 4;
/** Keeps the four largest shares and makes them sum to one. */
export function prune(shares: ArrayLike<number>): VertexWeights {
  const kept = Array.from(shares, (share, joint) => [joint, share] as const)
    .filter(([, share]) => share > LEAST)
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST);
  const total = kept.reduce((sum, [, share]) => sum + share, 0);
  return kept.map(([joint, share]) => [joint, share / total] as const);
}

/** Share of what lies beyond a place, rising over `width` to both sides of it. */
const beyond = (x: number, at: number, width: number): number => smoothstep(at - width, at + width, x);
const isOfArm = (tag: SkinTag): boolean => ["arm", "palm", "web", "finger", "thumb"].includes(tag.region);
const isOfLeg = (tag: SkinTag): boolean => tag.region === "leg" || tag.region === "foot";

type Bones = Record<string, number>;

/** Weights of every vertex of the skin. */
export function skinWeights(skin: Skin): VertexWeights[] {
  const limbs = limbDistances(skin);
  let shares = skin.points.map((p, v) => sharesOf(skin.tags[v]!, p, limbs, v));
  for (let round = 0; round < SMOOTHING_ROUNDS; round++) {
    const before = shares;
    shares = before.map((own, v) => {
      const k = smoothing(skin.tags[v]!, round);
      return k === 0
        ? own
        : blended(
            own,
            [...skin.neighbours[v]!].map((n) => before[n]!),
            k,
          );
    });
  }
  return shares.map(prune);
}

// ---- smoothing
const SMOOTHING_ROUNDS = 8;
/** Rounds in which trunk and girdle take part. */
const TRUNK_ROUNDS = 4;
/**
 * The skin between the knuckles and the fingers' roots is smoothed in all rounds, trunk and girdle in half of them,
 * limbs a little in the first, fingers never.
 */
function smoothing(tag: SkinTag, round: number): number {
  if (
    tag.region === "web" ||
    (tag.region === "palm" && tag.row > 3) ||
    (tag.region === "finger" && tag.ring < 2) ||
    (tag.region === "thumb" && tag.ring < 2)
  )
    return 0.5;
  if (["finger", "thumb"].includes(tag.region)) return 0;
  const isLimb =
    (tag.region === "arm" && tag.along > 0.2) ||
    tag.region === "palm" ||
    (tag.region === "leg" && tag.ring > 6) ||
    tag.region === "foot";
  return isLimb ? (round < 1 ? 0.4 : 0) : round < TRUNK_ROUNDS ? 0.5 : 0;
}

function blended(own: Float64Array, around: readonly Float64Array[], k: number): Float64Array {
  return own.map((share, j) => {
    let sum = 0;
    for (const other of around) sum += other[j]!;
    return mix(share, sum / around.length, k);
  });
}

// ---- distance to the limbs: positive within the limb, negative outside
interface LimbDistances {
  readonly arm: Record<"left" | "right", Float64Array>;
  readonly leg: Record<"left" | "right", Float64Array>;
}
const SIDES = ["left", "right"] as const;

function limbDistances(skin: Skin): LimbDistances {
  const signed = (ring: readonly number[], side: "left" | "right", isWithin: (tag: SkinTag) => boolean): Float64Array =>
    distanceAlong(skin, ring).map((d, v) => (isWithin(skin.tags[v]!) && sideOf(skin.tags[v]!) === side ? d : -d));
  return {
    arm: { left: signed(skin.armholes.left, "left", isOfArm), right: signed(skin.armholes.right, "right", isOfArm) },
    leg: { left: signed(skin.legBases.left, "left", isOfLeg), right: signed(skin.legBases.right, "right", isOfLeg) },
  };
}
const sideOf = (tag: SkinTag): "left" | "right" => (tag.side < 0 ? "right" : "left");

// ---- shares of one vertex
function sharesOf(tag: SkinTag, p: Vec3, limbs: LimbDistances, v: number): Float64Array {
  const shares = new Float64Array(JOINTS.length);
  const give = (joint: string, share: number): void => {
    shares[jointIndex(joint)]! += share;
  };
  const onLeft: Vec3 = [Math.abs(p[0]), p[1], p[2]];
  const arm = { left: 0, right: 0 };
  const leg = { left: 0, right: 0 };
  if (tag.region !== "head") {
    const up = Math.min(1, Math.max(0, (p[1] - 1.26) / 0.12));
    const back = Math.min(1, Math.max(0, -p[2] / 0.08));
    for (const side of SIDES) {
      arm[side] = smoothstep(mix(-0.075, -0.07, up), mix(0.075, 0.095, up), limbs.arm[side][v]!);
      leg[side] = smoothstep(mix(-0.075, -0.11, back), mix(0.075, 0.09, back), limbs.leg[side][v]!);
    }
  }
  const limbTotal = arm.left + arm.right + leg.left + leg.right;
  const rest = Math.max(0, 1 - limbTotal);
  const { bones: trunk, neck } = trunkBones(tag, p[1]);
  // share of the shoulder girdle in the upper trunk
  const girdle =
    p[1] > 1.15 ? smoothstep(0.022, 0.125, onLeft[0]) * smoothstep(1.235, 1.36, p[1]) * (1 - neck) * 0.92 : 0;
  const breath = breathShare(p);
  for (const [joint, share] of Object.entries(trunk)) {
    const own = share * rest * (1 - girdle);
    const given = /hest$/.test(joint) ? own * breath : 0;
    give(joint, own - given);
    give("breath", given);
  }
  give(`${sideOf(tag)}Shoulder`, girdle * rest);
  for (const side of SIDES) {
    if (arm[side] > 0)
      for (const [bone, share] of Object.entries(armBones(tag, onLeft)))
        give(`${side}${bone}`, (share * arm[side]) / Math.max(1, limbTotal));
    if (leg[side] > 0)
      for (const [bone, share] of Object.entries(legBones(tag, onLeft)))
        give(`${side}${bone}`, (share * leg[side]) / Math.max(1, limbTotal));
  }
  return shares;
}

/**
 * How far up the neck a vertex lies: 0 at the trunk's row 23, 1 at the ring under the jaw, more under the chin and up
 * the skull; null below.
 */
function neckHeight(tag: SkinTag): number | null {
  const rows = 4 + NECK_ROWS;
  if (tag.region === "torso") return tag.crotch || tag.row < 23 ? null : (tag.row - 23) / rows;
  if (tag.region === "neck") return 1 - tag.row / rows;
  if (tag.region === "chin") return 1 + 0.04 * (PATCH_ROWS - tag.row);
  if (tag.region !== "head") return null;
  return tag.head.zone === "grid" ? 1 + 0.065 * (31 - tag.head.row) + 0.04 * Math.max(0, 16 - tag.head.column) : 2;
}

/**
 * How much of the chest's skin rises with the breath: most at the front of the ribs, none at the back and toward the
 * neck.
 */
const breathShare = (p: Vec3): number =>
  0.6 *
  smoothstep(0, 0.07, p[2]) *
  smoothstep(1.09, 1.2, p[1]) *
  smoothstep(1.37, 1.29, p[1]) *
  smoothstep(0.15, 0.09, Math.abs(p[0]));

function trunkBones(tag: SkinTag, y: number): { bones: Bones; neck: number } {
  const spine = beyond(y, 1.025, 0.065);
  const chest = beyond(y, 1.125, 0.06);
  const upperChest = beyond(y, 1.23, 0.065);
  const height = neckHeight(tag);
  const neck = height === null ? 0 : smoothstep(0.02, 0.62, height);
  const head = height === null ? 0 : smoothstep(0.42, 1.28, height);
  return {
    neck,
    bones: {
      hips: 1 - spine,
      spine: spine * (1 - chest),
      chest: spine * chest * (1 - upperChest),
      upperChest: spine * chest * upperChest * (1 - neck),
      neck: spine * chest * upperChest * neck * (1 - head),
      head: spine * chest * upperChest * neck * head,
    },
  };
}

function armBones(tag: SkinTag, p: Vec3): Bones {
  if (!isOfArm(tag)) return { UpperArm: 1 };
  const along =
    tag.region === "arm"
      ? dot(sub(p, SHOULDER), ARM)
      : UPPER_ARM_LENGTH + dot(sub(p, onArm(UPPER_ARM_LENGTH, 0, 0)), HAND);
  const forearm = beyond(along, UPPER_ARM_LENGTH, 0.046);
  const twist = smoothstep(UPPER_ARM_LENGTH + 0.07, UPPER_ARM_LENGTH + FOREARM_LENGTH - 0.03, along);
  const hand = beyond(dot(sub(p, WRIST), HAND), 0.001, 0.024);
  const digits = { ...fingerBones(tag, p), ...thumbBones(tag, p) };
  // fingers take their share of the hand first, the thumb of what is left
  const fingers = Object.entries(digits)
    .filter(([bone]) => !bone.startsWith("Thumb"))
    .reduce((sum, [, share]) => sum + share, 0);
  const thumb = Object.entries(digits)
    .filter(([bone]) => bone.startsWith("Thumb"))
    .reduce((sum, [, share]) => sum + share, 0);
  const palm = Math.max(0, 1 - fingers);
  const ofHand = forearm * hand;
  const roll = smoothstep(0.06, UPPER_ARM_LENGTH - 0.03, along);
  const bones: Bones = {
    UpperArm: (1 - forearm) * (1 - roll),
    UpperArmTwist: (1 - forearm) * roll,
    LowerArm: forearm * (1 - twist) * (1 - hand),
    LowerArmTwist: forearm * twist * (1 - hand),
    Hand: ofHand * palm * (1 - thumb),
  };
  for (const [bone, share] of Object.entries(digits))
    bones[bone] = ofHand * share * (bone.startsWith("Thumb") ? palm : 1);
  return bones;
}

/** How much each finger has of a vertex of palm, web or finger: by column of the palm. */
function fingerMembers(tag: SkinTag): readonly [finger: number, share: number][] {
  if (tag.region === "finger") return [[tag.finger, 1]];
  if (tag.region !== "palm" && tag.region !== "web") return [];
  const { column } = tag;
  if (column <= 1) return [[0, 1]];
  if (column >= 7) return [[3, 1]];
  return column % 2 === 1
    ? [[(column - 1) / 2, 1]]
    : [
        [column / 2 - 1, 0.5],
        [column / 2, 0.5],
      ];
}

function fingerBones(tag: SkinTag, p: Vec3): Bones {
  const bones: Bones = {};
  for (const [finger, member] of fingerMembers(tag)) {
    const { points, directions } = FINGERS[finger]!;
    const past = (joint: number, before: Vec3, width: number): number =>
      beyond(dot(sub(p, points[joint]!), normalize(add(before, directions[joint]!))), 0, width);
    const isFree = tag.region === "finger";
    const proximal = beyond(dot(sub(p, points[0]), normalize(add(directions[0], HAND))), 0, 0.0125) * member;
    const intermediate = isFree ? past(1, directions[0], 0.012) : 0;
    const distal = isFree ? past(2, directions[1], 0.0105) : 0;
    const shares = [
      proximal * (1 - intermediate),
      proximal * intermediate * (1 - distal),
      proximal * intermediate * distal,
    ];
    FINGER_BONES.forEach((bone, k) => (bones[`${FINGER_NAMES[finger]}${bone}`] = shares[k]!));
  }
  return bones;
}

function thumbBones(tag: SkinTag, p: Vec3): Bones {
  if (tag.region !== "palm" && tag.region !== "thumb") return {};
  const { points, directions, lengths } = THUMB;
  const isFree = tag.region === "thumb";
  const from = sub(p, points[0]);
  const along = dot(from, directions[0]);
  const off = Math.hypot(...addScaled(from, directions[0], -Math.min(lengths[0], Math.max(0, along))));
  const inPalm =
    dot(sub(p, WRIST), HAND) > 0.075 ? 0 : smoothstep(0.034, 0.012, off) * smoothstep(-0.004, 0.034, along);
  const metacarpal = isFree ? smoothstep(0.004, 0.03, along) : inPalm;
  const past = (joint: 1 | 2, width: number): number =>
    isFree
      ? beyond(dot(sub(p, points[joint]), normalize(add(directions[joint - 1]!, directions[joint]))), 0, width)
      : 0;
  const [proximal, distal] = [past(1, 0.016), past(2, 0.012)];
  const shares = [metacarpal * (1 - proximal), metacarpal * proximal * (1 - distal), metacarpal * proximal * distal];
  return Object.fromEntries(THUMB_BONES.map((bone, k) => [`Thumb${bone}`, shares[k]!]));
}

function legBones(tag: SkinTag, p: Vec3): Bones {
  if (!isOfLeg(tag)) return { UpperLeg: 1 };
  const lower = smoothstep(KNEE[1] + 0.06, KNEE[1] - 0.06, p[1]);
  // the ankle's plane leans forward
  const foot =
    p[1] < 0.16 ? beyond(dot(sub(p, ANKLE_JOINT), normalize([FOOT[0] * 0.37, -0.93, FOOT[2] * 0.37])), 0, 0.034) : 0;
  const toes = tag.region === "foot" ? beyond(dot(sub(p, TOE_JOINT), FOOT), 0, 0.015) : 0;
  return {
    UpperLeg: 1 - lower,
    LowerLeg: lower * (1 - foot),
    Foot: lower * foot * (1 - toes),
    Toes: lower * foot * toes,
  };
}
