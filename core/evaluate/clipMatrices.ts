import { worldMatrices } from "./poseSkeleton";
import { sampleTrack } from "./sampleTrack";
import { normalizeQuat } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import type { Clip, ClipTrack, Joint, Skeleton } from "../model/character";

/** World matrices of a skeleton at a moment of a clip; joints without keys keep their rest. */
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
          rotation: rotation ? normalizeQuat(sampleTrack(rotation, seconds) as Quat) : joint.rotation,
          translation: translation ? (sampleTrack(translation, seconds) as Vec3) : joint.translation,
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
