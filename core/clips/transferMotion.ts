import { betweenDirections, conjugate, fromAxisAngle, multiplyQuat, rotate, slerp, twistDegrees } from "../math/quat";
import { degrees, dot, length, normalize, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { matchByWords } from "../names/matchByWords";
import { humanoidMap, type HumanoidMap } from "../skeleton/humanoidMap";
import { armsAt } from "../skeleton/rebind";
import { spaceTurns, turnsByJoint } from "../skeleton/retargetPose";
import { alignmentOf, type Alignment } from "./alignment";
import { rollJoints, sharedChains } from "./chains";
import { restStanding, setPlaceAt, setTurnAt, standing, travellerTo, type Motion, type Standing } from "./motion";
import type { SourceMotion } from "./sourceMotion";

/**
 * What a movement's figure does at rest: as its file says, limb by limb; the pose of its first frame; or a named pose,
 * arms level (T) or so many degrees under level (A), whatever the file says.
 */
export type RestOf = "file" | "first" | { readonly armsBelowLevel: number };

export interface TransferSettings {
  readonly rest: RestOf;
  /** Share of an upper arm's raise that a collar bone takes where the source has none, 0..1. */
  readonly collarShare: number;
  /** Stands a figure up that lies throughout. */
  readonly stand: boolean;
}
export const TRANSFER_DEFAULTS: TransferSettings = { rest: "file", collarShare: 0.15, stand: true };

export interface Transferred {
  readonly motion: Motion;
  /** By joint of the character: the source's joint that turns it, -1 for none. */
  readonly sources: readonly number[];
  readonly alignment: Alignment | null;
  /** Metres in one unit of the file. */
  readonly unit: number;
  /** The limb whose direction at rest differs most between the two; null where the rests agree to 5 degrees. */
  readonly restApart: { readonly bone: string; readonly degrees: number } | null;
  /** How far, metres, its start was moved to stand at the middle of the floor; 0 where it began there. */
  readonly broughtHome: number;
}

/**
 * Joints of the character with the joint of the other skeleton that moves each, -1 for none: by name, by words past
 * prefixes, else by the humanoid bone that both play.
 */
export function sourcesOf(skeleton: Skeleton, own: HumanoidMap, from: Skeleton, theirs: HumanoidMap): number[] {
  const called = matchByWords(
    from.joints.map((j) => j.name),
    skeleton.joints.map((j) => j.name),
  );
  const index = new Map(from.joints.map((j, i) => [j.name, i]));
  const byName = new Map([...called].map(([theirName, ownName]) => [ownName, index.get(theirName)!]));
  return skeleton.joints.map((joint, j) => {
    const bone = own.boneOfJoint[j];
    const byBone = bone ? theirs.jointOfBone.get(bone) : undefined;
    const named = byName.get(joint.name) ?? -1;
    // a bone that both know is the same bone whatever the words say; a word for another bone is none
    return byBone ?? (named >= 0 && theirs.boneOfJoint[named] ? -1 : named);
  });
}

/** Fewer joints than these are no figure. */
const LEAST_JOINTS = 3;
/** A movement that begins this far from the middle of the floor is brought there, metres. */
const FAR = 0.5;
const NONE: Quat = [0, 0, 0, 1];

/**
 * A movement of another skeleton on the character's joints. Every joint turns in space as the source's does away from
 * its rest, on top of a rest that is first brought to the source's limb by limb, so that limbs point the same way;
 * trunk and neck share their turn where the numbers of joints differ, joints that only roll take half of the twist, and
 * what the source lacks stands still. Only the pelvis travels, scaled by the length of the legs.
 * @throws UserError when fewer than three joints fit, or the character has no skeleton.
 */
export function transferMotion(
  character: Character,
  source: SourceMotion,
  settings: TransferSettings = TRANSFER_DEFAULTS,
): Transferred {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton to move.", source.name, "");
  const { motion: from, map: theirs } = source;
  const own = humanoidMap(skeleton, character.jointMap);
  const chains = sharedChains({ skeleton, map: own }, { skeleton: from.skeleton, map: theirs });
  const sources = sourcesOf(skeleton, own, from.skeleton, theirs).map((s, j) => chains.get(j)?.a ?? s);
  refuseUnlike(sources, source);
  const alignment = alignmentOf(from, theirs, settings.stand);
  const [restTurn, motionTurn] = [alignment?.rest ?? NONE, alignment?.motion ?? NONE];
  const theirRest = settings.rest === "first" ? standing(from, 0) : restStanding(from.skeleton);
  // the first frame as rest stands where the movement stands, not where the file's rest does
  const restToOurs = settings.rest === "first" ? motionTurn : restTurn;
  const rest = restStanding(skeleton);
  const corrections = correctionsOf(character, own, rest, theirs, theirRest, restToOurs, settings.rest);
  const unit = unitOf(own, rest, theirs, theirRest, restStanding(from.skeleton));
  const traveller = own.jointOfBone.get("hips") ?? firstMoved(skeleton, sources);
  const links: Links = {
    skeleton,
    sources,
    chains,
    collars: settings.collarShare > 0 ? loneCollars(own, sources) : new Map<number, number>(),
    rolls: rollsOf(skeleton, own, sources, rest).filter(({ joint }) => !chains.has(joint)),
    corrections,
    restTurns: rest.turns.map((q, j) => multiplyQuat(corrections[j]!, q)),
    collarShare: settings.collarShare,
  };
  const out = emptyMotion(from, links, traveller);
  const carrier = sources[traveller]! >= 0 ? sources[traveller]! : from.traveller;
  const room: Standing = { turns: [], places: [] };
  const backFromRest = theirRest.turns.map((q) => conjugate(multiplyQuat(restToOurs, q)));
  let home: Vec3 | null = null;
  for (let f = 0; f < from.frames; f++) {
    standing(from, f, room);
    const away = backFromRest.map((back, s) => multiplyQuat(multiplyQuat(motionTurn, room.turns[s]!), back));
    const world = worldTurns(links, away);
    skeleton.joints.forEach(({ parent }, j) =>
      setTurnAt(out, f, j, parent === NO_JOINT ? world[j]! : multiplyQuat(conjugate(world[parent]!), world[j]!)),
    );
    const at = scale(rotate(motionTurn, room.places[carrier]!), unit);
    if (f === 0) home = Math.hypot(at[0], at[2]) > FAR ? [at[0], 0, at[2]] : [0, 0, 0];
    setPlaceAt(out, f, travellerTo(out, sub(at, home!), { turns: world, places: rest.places as Vec3[] }));
  }
  return {
    motion: out,
    sources,
    alignment,
    unit,
    restApart: restApart(own, rest, theirs, theirRest, restToOurs),
    broughtHome: home ? Math.hypot(home[0], home[2]) : 0,
  };
}

function refuseUnlike(sources: readonly number[], { name, motion }: SourceMotion): void {
  const matched = sources.filter((s) => s >= 0).length;
  if (matched < LEAST_JOINTS)
    throw new UserError(
      `${matched} of its ${motion.skeleton.joints.length} joints fit this character.`,
      name,
      "Set the joint map first, or send a clip for a human figure.",
    );
}

/** How the character's joints hang on the source's. */
interface Links {
  readonly skeleton: Skeleton;
  /** By joint: the source's joint that turns it, -1 for none. */
  readonly sources: readonly number[];
  readonly chains: ReturnType<typeof sharedChains>;
  /** Collar bones that follow an upper arm, and by how much. */
  readonly collars: ReadonlyMap<number, number>;
  readonly collarShare: number;
  readonly rolls: readonly Roll[];
  /** By joint: from its rest to where the source's stands, and its rest there, turns in space. */
  readonly corrections: readonly Quat[];
  readonly restTurns: readonly Quat[];
}

/** A motion of the character as long as the source, with the joints keyed that it moves. */
function emptyMotion(from: Motion, { skeleton, sources, chains, collars, rolls }: Links, traveller: number): Motion {
  const { frames, fps } = from;
  const rolling = new Set(rolls.map((r) => r.joint));
  const isKeyed = (j: number): boolean => sources[j]! >= 0 || chains.has(j) || collars.has(j) || rolling.has(j);
  return {
    skeleton,
    frames,
    fps,
    traveller,
    turns: new Float64Array(4 * skeleton.joints.length * frames),
    places: new Float64Array(3 * frames),
    keyed: Uint8Array.from(skeleton.joints, (_, j) => (isKeyed(j) ? 1 : 0)),
  };
}

/** Turns in space of all joints in one frame. @param away by joint of the source: its turn away from its rest. */
function worldTurns(links: Links, away: readonly Quat[]): Quat[] {
  const { skeleton, sources, chains, collars, rolls, restTurns } = links;
  const world: Quat[] = [];
  skeleton.joints.forEach(({ parent, rotation }, j) => {
    const share = chains.get(j);
    const turn = share ? slerp(away[share.a]!, away[share.b]!, share.t) : (away[sources[j]!] ?? null);
    const above = parent === NO_JOINT ? NONE : world[parent]!;
    world[j] = turn ? multiplyQuat(turn, restTurns[j]!) : multiplyQuat(above, rotation);
    const arm = away[sources[collars.get(j) ?? -1] ?? -1];
    if (arm) world[j] = sharedCollar(world[j], above, rotation, arm, links.corrections, parent, links.collarShare);
  });
  layRolls(world, rolls, restTurns, skeleton);
  return world;
}

const firstMoved = (skeleton: Skeleton, sources: readonly number[]): number => {
  const moved = skeleton.joints.findIndex((_, j) => sources[j]! >= 0);
  return Math.max(0, moved);
};

/** Collar bones that the source lacks, with the upper arm that lends each a share of its raise. */
function loneCollars(own: HumanoidMap, sources: readonly number[]): Map<number, number> {
  const out = new Map<number, number>();
  for (const side of ["left", "right"]) {
    const [collar, arm] = [own.jointOfBone.get(`${side}Shoulder`), own.jointOfBone.get(`${side}UpperArm`)];
    if (collar !== undefined && arm !== undefined && sources[collar]! < 0) out.set(collar, arm);
  }
  return out;
}

/** A collar bone that follows its arm by a share of how far that turns against the chest. */
function sharedCollar(
  still: Quat,
  above: Quat,
  rotation: Quat,
  arm: Quat,
  corrections: readonly Quat[],
  parent: number,
  collarShare: number,
): Quat {
  // how the chest turns in space, and the arm against it
  const chest = multiplyQuat(multiplyQuat(above, rotation), conjugate(still));
  const against = multiplyQuat(conjugate(multiplyQuat(chest, corrections[parent] ?? NONE)), arm);
  return multiplyQuat(slerp(NONE, against, collarShare), still);
}

interface Roll {
  readonly joint: number;
  readonly above: number;
  /** Unit direction of the bone in the frame of the joint above. */
  readonly along: Vec3;
  /** Whose twist is shared: the hand's or foot's, or the limb's own. */
  readonly outer: number | null;
  /** 0..1 of the twist that has happened at this joint. */
  readonly share: number;
}

/**
 * Joints that only roll and that the source lacks: they share the twist of their limb evenly ("common practice, no
 * source").
 */
function rollsOf(skeleton: Skeleton, own: HumanoidMap, sources: readonly number[], rest: Standing): Roll[] {
  const found = [...rollJoints(skeleton, own)].filter(([j, { above }]) => sources[j]! < 0 && sources[above]! >= 0);
  return found.map(([joint, { above, below }]) => {
    const along = rotate(conjugate(rest.turns[above]!), normalize(sub(rest.places[below]!, rest.places[above]!)));
    const mates = found.filter(([, other]) => other.above === above);
    const place = mates.findIndex(([j]) => j === joint) + 1;
    const ends = /Hand|Foot/.test(own.boneOfJoint[below] ?? "");
    return { joint, above, along, outer: ends ? below : null, share: place / (mates.length + 1) };
  });
}

/** Shares twists out in one frame. @param world turns in space, written. */
function layRolls(world: Quat[], rolls: readonly Roll[], restTurns: readonly Quat[], skeleton: Skeleton): void {
  const relative = (turns: readonly Quat[], a: number, b: number): Quat =>
    multiplyQuat(conjugate(turns[a]!), turns[b]!);
  const before = new Map<number, Quat>();
  for (const { joint, above, along, outer, share } of rolls) {
    const rest = relative(restTurns, above, joint);
    if (outer !== null) {
      const away = multiplyQuat(relative(world, above, outer), conjugate(relative(restTurns, above, outer)));
      const given = fromAxisAngle(along, share * twistDegrees(away, along));
      world[joint] = multiplyQuat(multiplyQuat(world[above]!, given), rest);
      continue;
    }
    // the limb itself keeps its swing and only a part of its twist
    const whole = before.get(above) ?? world[above]!;
    const parent = skeleton.joints[above]!.parent;
    const local = parent === NO_JOINT ? whole : multiplyQuat(conjugate(world[parent]!), whole);
    const restLocal = parent === NO_JOINT ? restTurns[above]! : relative(restTurns, parent, above);
    const twist = twistDegrees(multiplyQuat(conjugate(restLocal), local), along);
    if (!before.has(above)) {
      before.set(above, whole);
      const mates = rolls.filter((r) => r.above === above).length;
      world[above] = multiplyQuat(whole, fromAxisAngle(along, -twist * (mates / (mates + 1))));
    }
    const mates = rolls.filter((r) => r.above === above).length;
    // at the last of them all of the twist has happened
    world[joint] = multiplyQuat(multiplyQuat(whole, fromAxisAngle(along, twist * (share + 1 / (mates + 1) - 1))), rest);
  }
}

/** Metres in the file's unit: by the length of the legs, else by the height of pelvis over the lowest joint at rest. */
function unitOf(own: HumanoidMap, rest: Standing, theirs: HumanoidMap, now: Standing, file: Standing): number {
  const leg = (s: Standing, map: HumanoidMap): number => {
    let [sum, sides] = [0, 0];
    for (const side of ["left", "right"]) {
      const [hip, knee, foot] = ["UpperLeg", "LowerLeg", "Foot"].map((b) => map.jointOfBone.get(side + b));
      if (hip === undefined || knee === undefined || foot === undefined) continue;
      sum += length(sub(s.places[hip]!, s.places[knee]!)) + length(sub(s.places[knee]!, s.places[foot]!));
      sides++;
    }
    return sides ? sum / sides : 0;
  };
  const [mine, yours] = [leg(rest, own), leg(file, theirs)];
  if (mine > 0 && yours > 0) return mine / yours;
  const high = (s: Standing, map: HumanoidMap): number => {
    const hips = map.jointOfBone.get("hips");
    return hips === undefined ? 0 : s.places[hips]![1];
  };
  const [a, b] = [high(rest, own), high(now, theirs)];
  return a > 0 && b > 0 ? a / b : CENTIMETRE;
}
/** Taken where nothing else tells. */
const CENTIMETRE = 0.01;

/** Limbs whose direction at rest is brought to the source's: from a bone to the next. */
const LIMBS = ["UpperArm LowerArm", "LowerArm Hand", "UpperLeg LowerLeg", "LowerLeg Foot"].flatMap((pair) =>
  ["left", "right"].map((side) => pair.split(" ").map((b) => side + b) as [string, string]),
);
const FEET = ["left", "right"].map((side) => [`${side}Foot`, `${side}Toes`] as const);

const directionOf = (s: Standing, map: HumanoidMap, [bone, next]: readonly [string, string]): Vec3 | null => {
  const [a, b] = [map.jointOfBone.get(bone), map.jointOfBone.get(next)];
  if (a === undefined || b === undefined) return null;
  const d = sub(s.places[b]!, s.places[a]!);
  return length(d) > 1e-9 ? normalize(d) : null;
};

/** By joint, the turn in space that brings its rest to where the source's stands. */
function correctionsOf(
  character: Character,
  own: HumanoidMap,
  rest: Standing,
  theirs: HumanoidMap,
  theirRest: Standing,
  toOurs: Quat,
  chosen: RestOf,
): Quat[] {
  const skeleton = character.skeleton!;
  if (character.retargetPose) return turnsByJoint(skeleton, character.retargetPose);
  if (chosen === "first") return skeleton.joints.map(() => NONE);
  if (chosen !== "file") return turnsByJoint(skeleton, spaceTurns(skeleton, armsAt(character, chosen.armsBelowLevel)));
  const set = new Map<number, Quat>();
  for (const limb of LIMBS) {
    const [mine, yours] = [directionOf(rest, own, limb), directionOf(theirRest, theirs, limb)];
    if (mine && yours) set.set(own.jointOfBone.get(limb[0])!, betweenDirections(mine, rotate(toOurs, yours)));
  }
  // feet stand as they stand, flat; only the way they point is brought along
  for (const [foot, toes] of FEET) {
    const j = own.jointOfBone.get(foot);
    if (j === undefined) continue;
    const [mine, yours] = [directionOf(rest, own, [foot, toes]), directionOf(theirRest, theirs, [foot, toes])];
    const heading = (d: Vec3): number => degrees(Math.atan2(d[0], d[2]));
    set.set(
      j,
      mine && yours && Math.abs(rotate(toOurs, yours)[1]) < 0.9
        ? fromAxisAngle([0, 1, 0], heading(rotate(toOurs, yours)) - heading(mine))
        : NONE,
    );
  }
  const out: Quat[] = [];
  skeleton.joints.forEach(({ parent }, j) => {
    out.push(set.get(j) ?? (parent === NO_JOINT ? NONE : out[parent]!));
  });
  return out;
}

/** Directions of limbs closer than this agree, degrees (our own choice). */
const AGREE = 5;

/** The limb whose direction at rest differs most. */
function restApart(
  own: HumanoidMap,
  rest: Standing,
  theirs: HumanoidMap,
  theirRest: Standing,
  toOurs: Quat,
): Transferred["restApart"] {
  let worst: Transferred["restApart"] = null;
  for (const limb of LIMBS) {
    const [mine, yours] = [directionOf(rest, own, limb), directionOf(theirRest, theirs, limb)];
    if (!mine || !yours) continue;
    const apart = degrees(Math.acos(Math.min(1, Math.max(-1, dot(mine, rotate(toOurs, yours))))));
    if (apart > AGREE && apart > (worst?.degrees ?? 0)) worst = { bone: limb[0], degrees: apart };
  }
  return worst;
}
