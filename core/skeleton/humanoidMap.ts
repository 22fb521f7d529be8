import { NO_JOINT, type Skeleton } from "../model/character";
import {
  ARM_WORDS,
  BONE_WORDS,
  CHEST_WORDS,
  FINGER_WORDS,
  HELPER_WORDS,
  HIP_WORDS,
  NUMBERED_FINGER_WORDS,
  TRUNK_WORDS,
} from "../names/boneWords";
import { REQUIRED_BONES, type Side } from "../names/humanoidBones";
import { hangsUnder } from "./hangsUnder";
import { mapByGeometry } from "./mapByGeometry";
import { readName, sharedPrefix, type NameReading } from "../names/nameWords";

/** Which joint plays which VRM 1.0 humanoid bone, both ways. */
export interface HumanoidMap {
  readonly jointOfBone: ReadonlyMap<string, number>;
  /** Per joint: bone name or null. */
  readonly boneOfJoint: readonly (string | null)[];
  readonly missingRequired: readonly string[];
}

const SIDES: readonly Side[] = ["left", "right"];

/** What the steps of the map share: joints by their words, and what has been settled so far. */
interface Draft {
  readonly skeleton: Skeleton;
  readonly readings: readonly NameReading[];
  readonly jointOfBone: Map<string, number>;
  /** Joint that may still be taken. */
  readonly free: (j: number) => boolean;
  readonly sideOf: (j: number) => Side | null;
  readonly take: (joint: number | undefined, bone: string) => void;
}

/**
 * Maps joints to humanoid bones by their words, sides and places in the tree, whatever prefix and separators the names
 * use; where required bones are not found so, by where joints stand and how they hang together (mapByGeometry).
 * @param corrections joint name -> bone or null, set by hand; they win over everything.
 */
export function humanoidMap(
  skeleton: Skeleton,
  corrections: Readonly<Record<string, string | null>> = {},
): HumanoidMap {
  const { joints } = skeleton;
  const skip = sharedPrefix(joints.map((j) => j.name));
  const readings = joints.map((j) => readName(j.name, skip));
  const boneOfJoint: (string | null)[] = joints.map(() => null);
  const jointOfBone = new Map<string, number>();
  const take = (joint: number | undefined, bone: string): void => {
    if (joint === undefined || jointOfBone.has(bone) || boneOfJoint[joint]) return;
    jointOfBone.set(bone, joint);
    boneOfJoint[joint] = bone;
  };
  joints.forEach((joint, j) => {
    const bone = corrections[joint.name];
    if (bone) take(j, bone);
  });
  const free = (j: number): boolean =>
    !boneOfJoint[j] &&
    corrections[joints[j]!.name] !== null &&
    !readings[j]!.words.some((w) => HELPER_WORDS.includes(w));
  const sideOf = (j: number): Side | null => {
    for (let k = j; k !== NO_JOINT; k = joints[k]!.parent) if (readings[k]!.side) return readings[k]!.side;
    return null;
  };
  const draft: Draft = { skeleton, readings, jointOfBone, free, sideOf, take };
  takeByWords(draft);
  for (const side of SIDES) {
    takeArm(draft, side);
    takeLeg(draft, side);
  }
  takeHips(draft);
  takeTrunk(draft);
  takeFingers(draft);
  // names that tell nothing, or not all: places and tree decide
  if (REQUIRED_BONES.some((b) => !jointOfBone.has(b)))
    for (const [bone, j] of mapByGeometry(skeleton)) if (corrections[joints[j]!.name] !== null) take(j, bone);
  return { jointOfBone, boneOfJoint, missingRequired: REQUIRED_BONES.filter((b) => !jointOfBone.has(b)) };
}

const capital = (s: string): string => s[0]!.toUpperCase() + s.slice(1);
const sided = (side: Side, bone: string): string => `${side}${capital(bone)}`;

/** The joint that others of the list hang on; the first where none hangs on another. */
const topmost = (skeleton: Skeleton, list: readonly number[]): number | undefined =>
  list.find((j) => !list.some((k) => hangsUnder(skeleton, j, k)));

const says = (reading: NameReading, words: readonly string[]): boolean => words.every((w) => reading.words.includes(w));

const fingerOf = (reading: NameReading): string | null => {
  for (const word of reading.words) if (FINGER_WORDS[word]) return FINGER_WORDS[word]!;
  return null;
};
const isFinger = (reading: NameReading): boolean =>
  fingerOf(reading) !== null || reading.words.some((w) => NUMBERED_FINGER_WORDS.includes(w));

/**
 * Bones whose words mean nothing else, the loudest word first; a hip without a side is the pelvis, with one a thigh
 * (takeLeg). The hips wait for the legs.
 */
function takeByWords({ skeleton, readings, free, sideOf, take }: Draft): void {
  for (const { bone, sided: isSided, sets } of BONE_WORDS) {
    if (bone === "hips") continue;
    for (const words of sets) {
      const found = skeleton.joints
        .map((_, j) => j)
        .filter((j) => free(j) && !isFinger(readings[j]!) && says(readings[j]!, words));
      if (!isSided) take(topmost(skeleton, found), bone);
      else
        for (const side of SIDES)
          take(
            topmost(
              skeleton,
              found.filter((j) => sideOf(j) === side),
            ),
            sided(side, bone),
          );
    }
  }
}

/**
 * "shoulder" and "arm": a shoulder is the collar bone where an upper arm hangs on it, else the upper arm itself; an arm
 * is the lower one where an upper one is above it.
 */
function takeArm({ skeleton, readings, jointOfBone, free, sideOf, take }: Draft, side: Side): void {
  const [upper, lower, hand] = ["UpperArm", "LowerArm", "Hand"].map((b) => sided(side, b)) as [string, string, string];
  const speaking = (words: readonly string[]): number[] =>
    skeleton.joints
      .map((_, j) => j)
      .filter(
        (j) =>
          free(j) && !isFinger(readings[j]!) && sideOf(j) === side && words.some((w) => readings[j]!.words.includes(w)),
      );
  const below = (j: number): boolean =>
    [upper, lower, hand].some((b) => jointOfBone.has(b) && hangsUnder(skeleton, jointOfBone.get(b)!, j)) ||
    ![upper, lower, hand].some((b) => jointOfBone.has(b));
  const arms = speaking(["arm"]).sort((a, b) => (hangsUnder(skeleton, a, b) ? 1 : -1));
  const shoulder = topmost(skeleton, speaking(ARM_WORDS.filter((w) => w !== "arm")).filter(below));
  if (!jointOfBone.has(upper)) {
    const arm = arms.find((j) => below(j) && (shoulder === undefined || hangsUnder(skeleton, j, shoulder)));
    // an upper arm that was taken out by hand leaves none
    const takenOut = skeleton.joints.some(
      (_, j) =>
        !free(j) &&
        sideOf(j) === side &&
        !readings[j]!.words.some((w) => HELPER_WORDS.includes(w)) &&
        BONE_WORDS.find((b) => b.bone === "UpperArm")!.sets.some((words) => says(readings[j]!, words)),
    );
    if (!takenOut) take(arm ?? shoulder, upper);
  }
  const upperArm = jointOfBone.get(upper);
  if (shoulder !== undefined && free(shoulder) && upperArm !== undefined && hangsUnder(skeleton, upperArm, shoulder))
    take(shoulder, sided(side, "Shoulder"));
  for (const arm of arms) if (free(arm) && hangsUnder(skeleton, arm, jointOfBone.get(upper))) take(arm, lower);
}

/** "hip" with a side is the thigh, "leg" the thigh or, where one is above it, the shin. */
function takeLeg({ skeleton, readings, jointOfBone, free, sideOf, take }: Draft, side: Side): void {
  const [upper, lower] = [sided(side, "UpperLeg"), sided(side, "LowerLeg")];
  const speaking = (words: readonly string[]): number[] =>
    skeleton.joints
      .map((_, j) => j)
      .filter((j) => free(j) && sideOf(j) === side && words.some((w) => readings[j]!.words.includes(w)))
      .sort((a, b) => (hangsUnder(skeleton, a, b) ? 1 : -1));
  const legs = speaking(["leg"]);
  const hip = topmost(skeleton, speaking(HIP_WORDS));
  if (!jointOfBone.has(upper)) {
    const leg = legs.find((j) => !jointOfBone.has(lower) || hangsUnder(skeleton, jointOfBone.get(lower)!, j));
    // "hip, leg, foot": the leg is the shin only where nothing else is; "hip, leg, knee": the hip carries the thigh
    if (leg !== undefined && (hip === undefined || jointOfBone.has(lower) || legs.length > 1)) take(leg, upper);
    else take(hip ?? leg, upper);
  }
  for (const leg of legs) if (free(leg) && hangsUnder(skeleton, leg, jointOfBone.get(upper))) take(leg, lower);
}

/**
 * The hips are what both legs and the trunk hang on. A joint of that name that only the legs hang on (H-Anim's
 * sacroiliac) is not it, where one near it carries all.
 */
function takeHips({ skeleton, readings, jointOfBone, free, take }: Draft): void {
  const named = skeleton.joints
    .map((_, j) => j)
    .filter(
      (j) => free(j) && readings[j]!.side === null && BONE_WORDS[0]!.sets.some((words) => says(readings[j]!, words)),
    );
  const legs = SIDES.map((s) => jointOfBone.get(sided(s, "UpperLeg")));
  const top = jointOfBone.get("neck") ?? jointOfBone.get("head");
  const carried = [...legs, top].filter((j): j is number => j !== undefined);
  const carries = (j: number): boolean => carried.every((k) => hangsUnder(skeleton, k, j));
  // the lowest that carries all
  const best = named
    .filter(carries)
    .reduce<number | undefined>((low, j) => (low === undefined || hangsUnder(skeleton, j, low) ? j : low), undefined);
  if (best !== undefined) return take(best, "hips");
  if (legs.every((j) => j !== undefined) && top !== undefined) {
    let common: number = skeleton.joints[legs[0]!]!.parent;
    while (common !== NO_JOINT && !carries(common)) common = skeleton.joints[common]!.parent;
    // a root that holds pelvis and spine apart is no pelvis: one of that name goes before it
    if (
      common !== NO_JOINT &&
      free(common) &&
      !(
        named.length > 0 &&
        readings[common]!.words.every((w) => ["root", "armature", "rig", "origin", "skeleton"].includes(w))
      )
    )
      return take(common, "hips");
  }
  take(topmost(skeleton, named), "hips");
}

/**
 * Joints between hips and neck (or head): one is the spine, two spine and chest, three or more end in upperChest. A
 * chain of single vertebrae has its chest half-way.
 */
function takeTrunk({ skeleton, readings, jointOfBone, free, take }: Draft): void {
  const hips = jointOfBone.get("hips");
  const top = jointOfBone.get("neck") ?? jointOfBone.get("head");
  let chain: number[] = [];
  if (top !== undefined)
    for (let k = skeleton.joints[top]!.parent; k !== NO_JOINT && k !== hips; k = skeleton.joints[k]!.parent)
      chain.unshift(k);
  if (hips === undefined && chain.length > 1) take(chain.shift(), "hips");
  chain = chain.filter(free);
  if (chain.length === 0)
    chain = skeleton.joints
      .map((_, j) => j)
      .filter((j) => free(j) && readings[j]!.words.some((w) => TRUNK_WORDS.includes(w)));
  // where the arms part, the trunk's upper end is; what follows belongs to the neck
  const arms = SIDES.map((s) => jointOfBone.get(sided(s, "Shoulder")) ?? jointOfBone.get(sided(s, "UpperArm")));
  const parting = chain.findLastIndex((j) => arms.every((a) => a !== undefined && hangsUnder(skeleton, a, j)));
  const LONG = 6;
  const trunk = chain.length >= LONG && parting > 1 ? chain.slice(0, parting + 1) : chain;
  const [first, second] = trunk;
  const last = trunk[trunk.length - 1];
  take(first, "spine");
  if (trunk.length === 2) take(second, "chest");
  if (trunk.length >= 3) {
    const named = trunk.slice(1, -1).find((j) => readings[j]!.words.some((w) => CHEST_WORDS.includes(w)));
    take(trunk.length >= LONG ? (named ?? trunk[Math.floor(trunk.length / 2)]) : trunk[trunk.length - 2], "chest");
    take(last, "upperChest");
  }
}

/** Finger joints in order from the hand outward; a fourth joint before the knuckle is the palm's and is left out. */
function takeFingers(draft: Draft): void {
  const { skeleton, readings, free, sideOf, take } = draft;
  const chains = new Map<string, number[]>();
  const numbered = numberedFingers(draft);
  skeleton.joints.forEach((_, j) => {
    const finger = fingerOf(readings[j]!) ?? numbered.get(j) ?? null;
    const side = sideOf(j);
    if (finger && side && free(j) && !readings[j]!.words.includes("toe"))
      chains.set(`${side}${finger}`, [...(chains.get(`${side}${finger}`) ?? []), j]);
  });
  for (const [key, chain] of chains) {
    const names = key.endsWith("Thumb") ? ["Metacarpal", "Proximal", "Distal"] : ["Proximal", "Intermediate", "Distal"];
    const inPalm = (words: readonly string[]): boolean =>
      words.some((w) => ["metacarpal", "carpometacarpal", "0"].includes(w));
    const palm = chain.length > 3 && inPalm(readings[chain[0]!]!.words);
    chain
      .slice(palm && !key.endsWith("Thumb") ? 1 : 0)
      .slice(0, 3)
      .forEach((j, i) => take(j, `${key}${names[i]}`));
  }
}

/**
 * Fingers that only their number tells, from the thumb: by H-Anim's joints and "finger 1 .. 5". A number 0, or five of
 * them, means the thumb is counted; a thumb with a name of its own is not.
 */
function numberedFingers({ skeleton, readings }: Draft): Map<number, string> {
  const out = new Map<number, string>();
  const of = skeleton.joints.flatMap((_, j): { j: number; n: number }[] => {
    const { words } = readings[j]!;
    if (fingerOf(readings[j]!) || !words.some((w) => NUMBERED_FINGER_WORDS.includes(w))) return [];
    // the finger's number follows its word; in "finger_1_2" the second counts along the finger
    const digits = words.filter((w) => /^\d+$/.test(w));
    const n = digits[0];
    return n === undefined ? [] : [{ j, n: Number(n.length > 1 && !n.startsWith("0") ? n[0] : n) }];
  });
  if (of.length === 0) return out;
  const hasThumb = readings.some((r) => fingerOf(r) === "Thumb");
  const names = hasThumb ? ["Index", "Middle", "Ring", "Little"] : ["Thumb", "Index", "Middle", "Ring", "Little"];
  const first = Math.min(...of.map((x) => x.n));
  for (const { j, n } of of) {
    const name = names[n - (first === 0 ? 0 : 1)];
    if (name) out.set(j, name);
  }
  return out;
}
