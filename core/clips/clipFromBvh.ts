import { worldMatrices } from "../deform/poseSkeleton";
import { bvhMove, bvhTurn, type Bvh } from "../formats/bvh/readBvh";
import { decomposeTRS, translationOf } from "../math/mat4";
import { conjugate, multiplyQuat } from "../math/quat";
import { length, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type Clip, type ClipTrack, type Joint, type Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { within } from "../formats/budget";
import { humanoidMap } from "../skeleton/humanoidMap";
import { turnsByJoint } from "../skeleton/retargetPose";

export interface BroughtClip {
  readonly clip: Clip;
  /** Joints of the file that move a joint of the character / all of them. */
  readonly matched: number;
  readonly of: number;
  /** Metres in one unit of the file. */
  readonly unit: number;
}

/** The file's joints as a skeleton, in its own unit: frames along the axes of space. */
const skeletonOf = (bvh: Bvh): Skeleton => ({
  joints: bvh.joints.map((j): Joint => ({ name: j.name, parent: j.parent, translation: j.offset, rotation: [0, 0, 0, 1], scale: [1, 1, 1] })),
  inverseBinds: new Float32Array(16 * bvh.joints.length), inSkin: new Uint8Array(bvh.joints.length).fill(1),
});

/**
 * A BVH clip on the character's joints: those of the same name, else those that play the same humanoid bone. Every joint turns in space as the file's does away from its rest,
 * joints between that the file lacks stand still in what they hang on; the pelvis moves by the file's root, in metres by the ratio of leg lengths or the heights of the roots.
 * The file's rest is taken to be the character's pose for retargeting, or its rest where none is kept; limbs differ by as much as the two do. @throws UserError when nothing fits.
 */
export function clipFromBvh(character: Character, bvh: Bvh, name: string): BroughtClip {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton to move.", name, "");
  const from = skeletonOf(bvh);
  const [own, theirs] = [humanoidMap(skeleton, character.jointMap), humanoidMap(from, {})];
  const source = skeleton.joints.map((joint, j): number => {
    const named = from.joints.findIndex((x) => x.name === joint.name);
    const bone = own.boneOfJoint[j];
    return named >= 0 ? named : bone ? (theirs.jointOfBone.get(bone) ?? -1) : -1;
  });
  const matched = source.filter((s) => s >= 0).length;
  if (matched < 3) throw new UserError(`${matched} of its ${bvh.joints.length} joints fit this character.`, name, "Set the joint map first, or send a clip for a human figure.");
  within("clipNumbers", bvh.frames * 4 * skeleton.joints.length, name, "Cut it into shorter clips.");
  const rest = worldMatrices(skeleton, {});
  const unit = unitOf(skeleton, own.jointOfBone, from, theirs.jointOfBone, bvh);
  // where the file's figure stands at rest, this one stands in its pose for retargeting
  const restTurn = turnsByJoint(skeleton, character.retargetPose).map((turn, j) => multiplyQuat(turn, decomposeTRS(rest, 16 * j).q));
  const times = Float32Array.from({ length: bvh.frames }, (_, f) => f * bvh.frameSeconds);
  const turns = skeleton.joints.map(() => new Float32Array(4 * bvh.frames));
  const root = skeleton.joints.findIndex((j, i) => source[i]! >= 0 && (j.parent === NO_JOINT || source[j.parent]! < 0));
  const moves = new Float32Array(3 * bvh.frames);
  const first = bvh.joints[0]!;
  const standing = translationOf(rest, 16 * root);
  for (let f = 0; f < bvh.frames; f++) {
    const inSpace: Quat[] = [];
    bvh.joints.forEach((j) => inSpace.push(j.parent === NO_JOINT ? bvhTurn(bvh, j, f) : multiplyQuat(inSpace[j.parent]!, bvhTurn(bvh, j, f))));
    const world: Quat[] = [];
    skeleton.joints.forEach((joint, j) => {
      const above = joint.parent === NO_JOINT ? null : world[joint.parent]!;
      world.push(source[j]! >= 0 ? multiplyQuat(inSpace[source[j]!]!, restTurn[j]!) : above ? multiplyQuat(above, joint.rotation) : joint.rotation);
      turns[j]!.set(above ? multiplyQuat(conjugate(above), world[j]!) : world[j]!, 4 * f);
    });
    // what the channels say stands instead of the offset; how far that is from where the root stands at rest is taken over
    const move = bvhMove(bvh, first, f);
    const at = move ? scale(move, unit) : standing;
    moves.set(toParent(skeleton, rest, root, at), 3 * f);
  }
  const track = (joint: string, path: "rotation" | "translation", values: Float32Array): ClipTrack => ({ joint, path, interpolation: "LINEAR", times, values });
  const tracks = skeleton.joints.flatMap((j, i) => (source[i]! >= 0 ? [track(j.name, "rotation", turns[i]!)] : []));
  return { clip: { name, tracks: [track(skeleton.joints[root]!.name, "translation", moves), ...tracks] }, matched, of: bvh.joints.length, unit };
}

/** A place in character space as a translation of the joint; what it hangs on stands at rest. */
function toParent(skeleton: Skeleton, rest: Float64Array, joint: number, at: Vec3): Vec3 {
  const parent = skeleton.joints[joint]!.parent;
  if (parent === NO_JOINT) return at;
  const { t, q, s } = decomposeTRS(rest, 16 * parent);
  const [x, y, z, w] = conjugate(q);
  const v = sub(at, t);
  const turned = multiplyQuat(multiplyQuat([x, y, z, w], [v[0], v[1], v[2], 0]), q);
  return [turned[0] / (s[0] || 1), turned[1] / (s[1] || 1), turned[2] / (s[2] || 1)];
}

/** Taken where nothing else tells. */
const CENTIMETRE = 0.01;

/** Metres in the file's unit: by the length of the leg, else by the height of the file's first joint over the ground. */
function unitOf(own: Skeleton, ownBones: ReadonlyMap<string, number>, from: Skeleton, theirBones: ReadonlyMap<string, number>, bvh: Bvh): number {
  const leg = (s: Skeleton, bones: ReadonlyMap<string, number>): number => {
    const world = worldMatrices(s, {});
    const [hip, knee, foot] = ["leftUpperLeg", "leftLowerLeg", "leftFoot"].map((b) => bones.get(b));
    if (hip === undefined || knee === undefined || foot === undefined) return 0;
    const p = (j: number): Vec3 => translationOf(world, 16 * j);
    return length(sub(p(hip), p(knee))) + length(sub(p(knee), p(foot)));
  };
  const [mine, theirs] = [leg(own, ownBones), leg(from, theirBones)];
  if (mine > 0 && theirs > 0) return mine / theirs;
  const hips = ownBones.get("hips");
  const height = bvhMove(bvh, bvh.joints[0]!, 0)?.[1] ?? 0;
  const mineHigh = hips === undefined ? 0 : translationOf(worldMatrices(own, {}), 16 * hips)[1];
  return height > 0 && mineHigh > 0 ? mineHigh / height : CENTIMETRE;
}
