import { worldMatrices } from "../evaluate/poseSkeleton";
import { within } from "../model/budget";
import { composeTRS, decomposeTRS, multiplyMat4, translationOf } from "../math/mat4";
import { conjugate, multiplyQuat, rotate } from "../math/quat";
import { degrees, dot, length, normalize, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type Clip, type ClipTrack, type Joint, type Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { matchByWords } from "../names/matchByWords";
import { boneLabel } from "../names/humanoidBones";
import { humanoidMap, type HumanoidMap } from "../skeleton/humanoidMap";
import { turnsByJoint } from "../skeleton/retargetPose";

/**
 * A movement of another skeleton: its rest, and where its joints stand in what they hang on at each moment. Lengths in
 * any unit.
 */
export interface SourceClip {
  readonly skeleton: Skeleton;
  /** Seconds, ascending. */
  readonly times: Float32Array;
  /** Local transform of every joint at a moment. */
  readonly sample: (moment: number) => readonly Pick<Joint, "translation" | "rotation" | "scale">[];
}

export interface CarriedClip {
  readonly clip: Clip;
  /** Joints of the file that move a joint of the character / all of them. */
  readonly matched: number;
  readonly of: number;
  /** Metres in one unit of the file. */
  readonly unit: number;
  /** Limb whose direction at rest differs most between the two; null where the rests agree to 5 degrees. */
  readonly rest: { readonly bone: string; readonly degrees: number } | null;
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
  const byName = new Map(
    [...called].map(([theirName, ownName]) => [ownName, from.joints.findIndex((j) => j.name === theirName)]),
  );
  return skeleton.joints.map((joint, j) => {
    const bone = own.boneOfJoint[j];
    return byName.get(joint.name) ?? (bone ? (theirs.jointOfBone.get(bone) ?? -1) : -1);
  });
}

/**
 * A clip of another skeleton on the character's joints. Every joint turns in space as the source's does away from its
 * rest, joints between that the source lacks stand still in what they hang on; the pelvis moves with the source's, in
 * metres by the ratio of leg lengths or the heights of the roots. The source's rest is taken to be the character's pose
 * for retargeting, or its rest where none is kept; limbs differ by as much as the two do (`rest` says how much).
 * @throws UserError when fewer than three joints fit.
 */
export function carryClip(character: Character, source: SourceClip, name: string): CarriedClip {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton to move.", name, "");
  const from = source.skeleton;
  const [own, theirs] = [humanoidMap(skeleton, character.jointMap), humanoidMap(from, {})];
  const joints = sourcesOf(skeleton, own, from, theirs);
  const matched = joints.filter((s) => s >= 0).length;
  if (matched < 3)
    throw new UserError(
      `${matched} of its ${from.joints.length} joints fit this character.`,
      name,
      "Set the joint map first, or send a clip for a human figure.",
    );
  const frames = source.times.length;
  within("clipNumbers", frames * 4 * skeleton.joints.length, name, "Cut it into shorter clips.");
  const rest = worldMatrices(skeleton, {});
  const theirRest = worldMatrices(from, {});
  const root = skeleton.joints.findIndex((j, i) => joints[i]! >= 0 && (j.parent === NO_JOINT || joints[j.parent]! < 0));
  const unit = unitOf(rest, own.jointOfBone, theirRest, theirs.jointOfBone, () => placesAt(source, 0)[joints[root]!]!);
  // where the source's figure stands at rest, this one stands in its pose for retargeting
  const turnOf = turnsByJoint(skeleton, character.retargetPose);
  const restTurn = skeleton.joints.map((_, j) => multiplyQuat(turnOf[j]!, decomposeTRS(rest, 16 * j).q));
  const backFromRest = from.joints.map((_, j) => conjugate(decomposeTRS(theirRest, 16 * j).q));
  const turns = skeleton.joints.map(() => new Float32Array(4 * frames));
  const moves = new Float32Array(3 * frames);
  for (let f = 0; f < frames; f++) {
    const { turns: inSpace, places } = standing(source, f);
    const world: Quat[] = [];
    skeleton.joints.forEach((joint, j) => {
      const above = joint.parent === NO_JOINT ? null : world[joint.parent]!;
      const s = joints[j]!;
      world.push(
        s >= 0
          ? multiplyQuat(multiplyQuat(inSpace[s]!, backFromRest[s]!), restTurn[j]!)
          : above
            ? multiplyQuat(above, joint.rotation)
            : joint.rotation,
      );
      turns[j]!.set(above ? multiplyQuat(conjugate(above), world[j]!) : world[j]!, 4 * f);
    });
    moves.set(toParent(skeleton, rest, root, scale(places[joints[root]!]!, unit)), 3 * f);
  }
  const track = (joint: string, path: "rotation" | "translation", values: Float32Array): ClipTrack => ({
    joint,
    path,
    interpolation: "LINEAR",
    times: source.times,
    values,
  });
  const tracks = skeleton.joints.flatMap((j, i) => (joints[i]! >= 0 ? [track(j.name, "rotation", turns[i]!)] : []));
  return {
    clip: { name, tracks: [track(skeleton.joints[root]!.name, "translation", moves), ...tracks] },
    matched,
    of: from.joints.length,
    unit,
    rest: restDifference(rest, own, turnOf, theirRest, theirs),
  };
}

function standing(source: SourceClip, moment: number): { turns: Quat[]; places: Vec3[] } {
  const locals = source.sample(moment);
  const m = new Float64Array(16 * locals.length);
  const local = new Float64Array(16);
  const turns: Quat[] = [];
  source.skeleton.joints.forEach(({ parent }, j) => {
    const { translation, rotation, scale: s } = locals[j]!;
    composeTRS(local, 0, translation, rotation, s);
    if (parent === NO_JOINT) m.set(local, 16 * j);
    else multiplyMat4(m, 16 * j, m, 16 * parent, local, 0);
    turns.push(parent === NO_JOINT ? rotation : multiplyQuat(turns[parent]!, rotation));
  });
  return { turns, places: source.skeleton.joints.map((_, j) => translationOf(m, 16 * j)) };
}
const placesAt = (source: SourceClip, moment: number): Vec3[] => standing(source, moment).places;

/** A place in character space as a translation of the joint; what it hangs on stands at rest. */
function toParent(skeleton: Skeleton, rest: Float64Array, joint: number, at: Vec3): Vec3 {
  const parent = skeleton.joints[joint]!.parent;
  if (parent === NO_JOINT) return at;
  const { t, q, s } = decomposeTRS(rest, 16 * parent);
  const turned = rotate(conjugate(q), sub(at, t));
  return [turned[0] / (s[0] || 1), turned[1] / (s[1] || 1), turned[2] / (s[2] || 1)];
}

/** Taken where nothing else tells. */
const CENTIMETRE = 0.01;

/** Metres in the file's unit: by the length of the leg, else by the height of the source's root over the ground. */
function unitOf(
  rest: Float64Array,
  ownBones: ReadonlyMap<string, number>,
  theirRest: Float64Array,
  theirBones: ReadonlyMap<string, number>,
  rootPlace: () => Vec3,
): number {
  const leg = (world: Float64Array, bones: ReadonlyMap<string, number>): number => {
    const [hip, knee, foot] = ["leftUpperLeg", "leftLowerLeg", "leftFoot"].map((b) => bones.get(b));
    if (hip === undefined || knee === undefined || foot === undefined) return 0;
    const p = (j: number): Vec3 => translationOf(world, 16 * j);
    return length(sub(p(hip), p(knee))) + length(sub(p(knee), p(foot)));
  };
  const [mine, yours] = [leg(rest, ownBones), leg(theirRest, theirBones)];
  if (mine > 0 && yours > 0) return mine / yours;
  const hips = ownBones.get("hips");
  const height = rootPlace()[1];
  const mineHigh = hips === undefined ? 0 : translationOf(rest, 16 * hips)[1];
  return height > 0 && mineHigh > 0 ? mineHigh / height : CENTIMETRE;
}

/** Directions of limbs closer than this agree, degrees (our own choice). */
const AGREE = 5;
const LIMBS = ["UpperArm LowerArm", "LowerArm Hand", "UpperLeg LowerLeg", "LowerLeg Foot"].flatMap((pair) =>
  ["left", "right"].map((side) => pair.split(" ").map((b) => side + b) as [string, string]),
);

/** The limb whose direction at rest differs most, with the character in its pose for retargeting. */
function restDifference(
  rest: Float64Array,
  own: HumanoidMap,
  turns: readonly Quat[],
  theirRest: Float64Array,
  theirs: HumanoidMap,
): CarriedClip["rest"] {
  let worst: CarriedClip["rest"] = null;
  for (const [bone, next] of LIMBS) {
    const mine = [bone, next].map((b) => own.jointOfBone.get(b));
    const yours = [bone, next].map((b) => theirs.jointOfBone.get(b));
    if ([...mine, ...yours].includes(undefined)) continue;
    const direction = (world: Float64Array, [a, b]: (number | undefined)[]): Vec3 =>
      normalize(sub(translationOf(world, 16 * b!), translationOf(world, 16 * a!)));
    const apart = degrees(
      Math.acos(
        Math.min(1, Math.max(-1, dot(rotate(turns[mine[0]!]!, direction(rest, mine)), direction(theirRest, yours)))),
      ),
    );
    if (apart > AGREE && apart > (worst?.degrees ?? 0)) worst = { bone, degrees: apart };
  }
  return worst;
}

/** What should be known of a carried clip before it is taken. */
export function carriedWords({ matched, of, unit, rest }: CarriedClip): string {
  const parts = [`${matched} of its ${of} joints move this character`];
  if (Math.abs(unit - 1) > 0.02) parts.push(`lengths x ${Number(unit.toPrecision(3))}`);
  if (rest)
    parts.push(
      `at rest its ${boneLabel(rest.bone)} stands ${Math.round(rest.degrees)} degrees from ` +
        "here: set the pose for retargeting under Skeleton, Rest pose, before you take it",
    );
  return parts.join("; ");
}
