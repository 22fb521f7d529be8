import { multiplyQuat, conjugate } from "../math/quat";
import { NO_JOINT, type Character, type Clip, type Skeleton } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { localsAt } from "../evaluate/clipMatrices";
import { carriedWords, carryClip, sourcesOf } from "./carryClip";

/** Rests that agree to this are the same: half the angle's sine, and metres. */
const SAME_TURN = 5e-4;
const SAME_PLACE = 1e-3;

/**
 * A clip of a file with a skeleton of its own, on the character's joints. Where both rest alike the keys are taken as
 * they are, under the names that the joints have here;
 * else the movement is carried (carryClip) at every time that has a key. Null when it moves nothing here.
 */
export function clipFromSkeleton(
  character: Character,
  from: Skeleton,
  clip: Clip,
  name: string,
): { clip: Clip; note: string } | null {
  const { skeleton } = character;
  if (!skeleton) return null;
  const sources = sourcesOf(skeleton, humanoidMap(skeleton, character.jointMap), from, humanoidMap(from, {}));
  const ownOf = new Map(sources.flatMap((s, j) => (s >= 0 ? [[s, j] as const] : [])));
  const indexOf = new Map(from.joints.map((j, i) => [j.name, i]));
  const kept = clip.tracks.flatMap((t) => {
    const own = ownOf.get(indexOf.get(t.joint) ?? -1);
    return own === undefined ? [] : [{ ...t, joint: skeleton.joints[own]!.name }];
  });
  if (kept.length === 0) return null;
  if (restsAlike(skeleton, from, sources))
    return { clip: { name, tracks: kept }, note: `${kept.length} of its ${clip.tracks.length} tracks fit` };
  const times = Float32Array.from([...new Set(clip.tracks.flatMap((t) => Array.from(t.times)))].sort((a, b) => a - b));
  const carried = carryClip(character, { skeleton: from, times, sample: (f) => localsAt(from, clip, times[f]!) }, name);
  return { clip: carried.clip, note: carriedWords(carried) };
}

/** Whether matched joints rest alike in what they hang on, so that keys of one mean the same on the other. */
function restsAlike(own: Skeleton, from: Skeleton, sources: readonly number[]): boolean {
  return own.joints.every((joint, j) => {
    const s = sources[j]!;
    if (s < 0) return true;
    const other = from.joints[s]!;
    const above = joint.parent === NO_JOINT ? NO_JOINT : sources[joint.parent]!;
    if (above !== other.parent)
      return joint.parent === NO_JOINT || other.parent === NO_JOINT
        ? isPlain(own, joint.parent) && isPlain(from, other.parent) && alike(joint, other)
        : false;
    return alike(joint, other);
  });
}
const alike = (a: Skeleton["joints"][number], b: Skeleton["joints"][number]): boolean => {
  const q = multiplyQuat(conjugate(a.rotation), b.rotation);
  return (
    Math.hypot(q[0], q[1], q[2]) < SAME_TURN &&
    a.translation.every((x, r) => Math.abs(x - b.translation[r]!) < SAME_PLACE) &&
    a.scale.every((x, r) => Math.abs(x - b.scale[r]!) < SAME_PLACE)
  );
};
/** Whether everything from a joint upward stands at the origin without a turn or scale. */
function isPlain(skeleton: Skeleton, joint: number): boolean {
  for (let j = joint; j !== NO_JOINT; j = skeleton.joints[j]!.parent)
    if (
      !alike(skeleton.joints[j]!, {
        ...skeleton.joints[j]!,
        translation: [0, 0, 0],
        rotation: [0, 0, 0, 1],
        scale: [1, 1, 1],
      })
    )
      return false;
  return true;
}
