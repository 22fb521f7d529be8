import { conjugate, fromAxisAngle, multiplyQuat, twistDegrees } from "../math/quat";
import type { Quat } from "../math/vec3";
import type { Character, Clip, ClipTrack } from "../model/character";
import { sampleTrack } from "./sampleTrack";

/**
 * Clips with tracks of the joints that share a twist, keyed where the joints that they read are: for players that turn
 * no joint by themselves.
 */
export function withTwistTracks({ clips, twistJoints = [], skeleton }: Character): readonly Clip[] {
  if (twistJoints.length === 0 || !skeleton) return clips;
  const restOf = new Map(skeleton.joints.map((j) => [j.name, j.rotation as Quat]));
  return clips.map((clip) => {
    const made = twistJoints.flatMap(({ joint, of, axis, about, share }): ClipTrack[] => {
      const read = clip.tracks.find((t) => t.joint === of && t.path === "rotation");
      const [rest, own] = [restOf.get(of), restOf.get(joint)];
      if (!read || !rest || !own) return [];
      const values = new Float32Array(4 * read.times.length);
      read.times.forEach((seconds, k) => {
        const turn = multiplyQuat(conjugate(rest), sampleTrack(read, seconds) as Quat);
        values.set(multiplyQuat(own, fromAxisAngle(about, share * twistDegrees(turn, axis))), 4 * k);
      });
      const interpolation = read.interpolation === "STEP" ? "STEP" : "LINEAR";
      return [{ joint, path: "rotation", interpolation, times: read.times, values }];
    });
    return { ...clip, tracks: [...withoutTwists(clip.tracks, { twistJoints }), ...made] };
  });
}

/** Tracks without those of the joints that share a twist: they turn by themselves. */
export function withoutTwists(
  tracks: readonly ClipTrack[],
  { twistJoints = [] }: Pick<Character, "twistJoints">,
): readonly ClipTrack[] {
  const own = new Set(twistJoints.map((t) => t.joint));
  return own.size ? tracks.filter((t) => t.path !== "rotation" || !own.has(t.joint)) : tracks;
}
