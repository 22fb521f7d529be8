import { worldMatrices } from "../deform/poseSkeleton";
import { slerp } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import type { Clip, ClipTrack, Joint, Skeleton } from "../model/character";
import { keysOf } from "./keysOf";

/**
 * World matrices of a skeleton at a moment of a clip; joints without keys keep their rest. Linear and stepped keys;
 * cubic splines are read at their values.
 */
export const clipMatrices = (skeleton: Skeleton, clip: Clip, seconds: number): Float64Array =>
  worldMatrices({ ...skeleton, joints: localsAt(skeleton, clip, seconds) }, {});

/** The joints as they stand in what they hang on at a moment of a clip; those without keys at rest. */
export function localsAt(skeleton: Skeleton, clip: Clip, seconds: number): Joint[] {
  const tracks = tracksOf(clip);
  return skeleton.joints.map((joint) => {
    const [rotation, translation] = [tracks.get(`rotation ${joint.name}`), tracks.get(`translation ${joint.name}`)];
    return rotation || translation
      ? {
          ...joint,
          rotation: rotation ? (sample(rotation, seconds) as Quat) : joint.rotation,
          translation: translation ? (sample(translation, seconds) as Vec3) : joint.translation,
        }
      : joint;
  });
}

const known = new WeakMap<Clip, ReadonlyMap<string, ClipTrack>>();
function tracksOf(clip: Clip): ReadonlyMap<string, ClipTrack> {
  const found = known.get(clip) ?? new Map([...clip.tracks].reverse().map((t) => [`${t.path} ${t.joint}`, t]));
  known.set(clip, found);
  return found;
}

function sample(track: ClipTrack, seconds: number): Quat | Vec3 {
  const { times, interpolation } = track;
  const keys = keysOf(track);
  const key = (k: number): number[] => Array.from(keys.at(k));
  let k = 0;
  while (k < times.length - 1 && times[k + 1]! <= seconds) k++;
  const a = key(k);
  if (k === times.length - 1 || seconds <= times[0]! || interpolation === "STEP") return a as unknown as Vec3;
  const t = (seconds - times[k]!) / (times[k + 1]! - times[k]!);
  const b = key(k + 1);
  return keys.width === 4
    ? slerp(a as unknown as Quat, b as unknown as Quat, t)
    : (a.map((x, i) => x + (b[i]! - x) * t) as unknown as Vec3);
}
