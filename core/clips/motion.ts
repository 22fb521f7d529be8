import { sampleTrack } from "../evaluate/sampleTrack";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { conjugate, multiplyQuat, normalizeQuat, rotate } from "../math/quat";
import { scale, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Clip, type ClipTrack, type Skeleton } from "../model/character";

/**
 * A movement frame by frame, in flat arrays: how every joint is turned in what it hangs on, its rest included, and
 * where the traveller stands in what it hangs on.
 */
export interface Motion {
  readonly skeleton: Skeleton;
  readonly frames: number;
  /** Frames a second; the last frame is at (frames - 1) / fps. */
  readonly fps: number;
  /** 4 x joints x frames, unit quaternions xyzw. */
  readonly turns: Float64Array;
  /** The joint that carries the figure about: the pelvis, else the first root. */
  readonly traveller: number;
  /** 3 x frames, the traveller's translation in what it hangs on, metres. */
  readonly places: Float64Array;
  /** 1 for joints that have keys of their own. */
  readonly keyed: Uint8Array;
}

export const turnAt = ({ turns, skeleton }: Motion, frame: number, joint: number): Quat => {
  const i = 4 * (frame * skeleton.joints.length + joint);
  return [turns[i]!, turns[i + 1]!, turns[i + 2]!, turns[i + 3]!];
};
export const setTurnAt = ({ turns, skeleton }: Motion, frame: number, joint: number, q: Quat): void => {
  const i = 4 * (frame * skeleton.joints.length + joint);
  turns[i] = q[0];
  turns[i + 1] = q[1];
  turns[i + 2] = q[2];
  turns[i + 3] = q[3];
};
export const placeAt = ({ places }: Motion, frame: number): Vec3 => [
  places[3 * frame]!,
  places[3 * frame + 1]!,
  places[3 * frame + 2]!,
];
export const setPlaceAt = ({ places }: Motion, frame: number, [x, y, z]: Vec3): void => {
  places[3 * frame] = x;
  places[3 * frame + 1] = y;
  places[3 * frame + 2] = z;
};

/** A copy whose frames may be written. */
export const copyMotion = (motion: Motion): Motion => ({
  ...motion,
  turns: motion.turns.slice(),
  places: motion.places.slice(),
  keyed: motion.keyed.slice(),
});

/** The joints of one frame in space: turns and places. Made once for a skeleton and filled again for each frame. */
export interface Standing {
  /** Turns in space by joint. */
  readonly turns: Quat[];
  /** Places in space by joint, metres. */
  readonly places: Vec3[];
}

const scales = new WeakMap<Skeleton, readonly number[]>();
/** How much longer lengths become under each joint: the product of the scales it hangs on. */
function scalesOf(skeleton: Skeleton): readonly number[] {
  const known = scales.get(skeleton);
  if (known) return known;
  const world = worldMatrices(skeleton, {});
  const out = skeleton.joints.map((_, j) => Math.cbrt(Math.abs(volumeOf(world, 16 * j))));
  scales.set(skeleton, out);
  return out;
}
const volumeOf = (m: Float64Array, o: number): number =>
  m[o]! * (m[o + 5]! * m[o + 10]! - m[o + 6]! * m[o + 9]!) -
  m[o + 4]! * (m[o + 1]! * m[o + 10]! - m[o + 2]! * m[o + 9]!) +
  m[o + 8]! * (m[o + 1]! * m[o + 6]! - m[o + 2]! * m[o + 5]!);

/** Turns and places of all joints in a frame. @param into filled again; scales along the chain must be even. */
export function standing(motion: Motion, frame: number, into: Standing = { turns: [], places: [] }): Standing {
  const { joints } = motion.skeleton;
  const longer = scalesOf(motion.skeleton);
  for (let j = 0; j < joints.length; j++) {
    const { parent, translation } = joints[j]!;
    const own = turnAt(motion, frame, j);
    const at = j === motion.traveller ? placeAt(motion, frame) : translation;
    if (parent === NO_JOINT) {
      into.turns[j] = own;
      into.places[j] = at;
      continue;
    }
    const above = into.turns[parent]!;
    const from = into.places[parent]!;
    const moved = rotate(above, scale(at, longer[parent]!));
    into.turns[j] = multiplyQuat(above, own);
    into.places[j] = [from[0] + moved[0], from[1] + moved[1], from[2] + moved[2]];
  }
  return into;
}

/** Where joints stand at rest: turns and places in space. */
export function restStanding(skeleton: Skeleton): Standing {
  const world = worldMatrices(skeleton, {});
  return {
    turns: skeleton.joints.map((_, j) => decomposeTRS(world, 16 * j).q),
    places: skeleton.joints.map((_, j) => translationOf(world, 16 * j)),
  };
}

/** A place in space as a translation of the traveller in a frame. */
export function travellerTo(motion: Motion, at: Vec3, standingNow: Standing): Vec3 {
  const parent = motion.skeleton.joints[motion.traveller]!.parent;
  if (parent === NO_JOINT) return at;
  const from = standingNow.places[parent]!;
  const turned = rotate(conjugate(standingNow.turns[parent]!), [at[0] - from[0], at[1] - from[1], at[2] - from[2]]);
  return scale(turned, 1 / (scalesOf(motion.skeleton)[parent]! || 1));
}

/** Length of a clip: its last key, seconds. */
export const clipSeconds = (clip: Clip): number =>
  [...clip.tracks, ...(clip.weights ?? [])].reduce((most, t) => Math.max(most, t.times[t.times.length - 1] ?? 0), 0);

/** When the first key of a clip stands, seconds. */
export const clipBegins = (clip: Clip): number =>
  clip.tracks.length ? Math.min(...clip.tracks.map((t) => t.times[0] ?? 0)) : 0;

const RATES = [24, 25, 30, 48, 50, 60, 90, 100, 120, 240];

/**
 * Frames a second that a clip was keyed at: of its densest track, the usual rate nearest to it; 30 where it has one
 * key.
 */
export function clipRate(clip: Clip): number {
  const dense = clip.tracks.reduce<ClipTrack | null>(
    (most, t) => (t.times.length > (most?.times.length ?? 1) ? t : most),
    null,
  );
  if (!dense) return 30;
  const steps = Array.from(dense.times.subarray(1), (t, i) => t - dense.times[i]!).sort((a, b) => a - b);
  const rate = 1 / steps[steps.length >> 1]!;
  const near = RATES.reduce((a, b) => (Math.abs(b - rate) < Math.abs(a - rate) ? b : a));
  return Math.abs(near - rate) < 0.02 * near ? near : Math.min(240, Math.max(1, rate));
}

/** A clip frame by frame. @param fps frames a second; that of its keys where left out. */
export function motionOf(skeleton: Skeleton, clip: Clip, traveller: number, fps = clipRate(clip)): Motion {
  const begin = clipBegins(clip);
  const frames = Math.max(1, Math.round((clipSeconds(clip) - begin) * fps) + 1);
  const count = skeleton.joints.length;
  const turns = new Float64Array(4 * count * frames);
  const places = new Float64Array(3 * frames);
  const keyed = new Uint8Array(count);
  const index = new Map(skeleton.joints.map((j, i) => [j.name, i]));
  const rotations: (ClipTrack | undefined)[] = [];
  let travels: ClipTrack | undefined;
  for (const track of clip.tracks) {
    const j = index.get(track.joint);
    if (j === undefined) continue;
    if (track.path === "rotation") {
      rotations[j] ??= track;
      keyed[j] = 1;
    } else if (track.path === "translation" && j === traveller) travels ??= track;
  }
  const motion: Motion = { skeleton, frames, fps, turns, traveller, places, keyed };
  for (let f = 0; f < frames; f++) {
    const t = begin + f / fps;
    skeleton.joints.forEach((joint, j) => {
      const track = rotations[j];
      setTurnAt(motion, f, j, track ? normalizeQuat(sampleTrack(track, t) as Quat) : joint.rotation);
    });
    setPlaceAt(motion, f, travels ? (sampleTrack(travels, t) as Vec3) : skeleton.joints[traveller]!.translation);
  }
  return motion;
}

/** A movement as a clip: turns of joints that have keys, and the way of the traveller. */
export function clipOfMotion(motion: Motion, name: string): Clip {
  const { skeleton, frames, fps, traveller, keyed } = motion;
  const times = Float32Array.from({ length: frames }, (_, f) => f / fps);
  const tracks: ClipTrack[] = [
    {
      joint: skeleton.joints[traveller]!.name,
      path: "translation",
      interpolation: "LINEAR",
      times,
      values: Float32Array.from(motion.places),
    },
  ];
  skeleton.joints.forEach((joint, j) => {
    if (!keyed[j]) return;
    const values = new Float32Array(4 * frames);
    let before: Quat | null = null;
    for (let f = 0; f < frames; f++) {
      const q = turnAt(motion, f, j);
      // neighbours on the same side, so that whoever reads the keys turns the shorter way
      const near: number = before ? before[0] * q[0] + before[1] * q[1] + before[2] * q[2] + before[3] * q[3] : 1;
      before = near < 0 ? [-q[0], -q[1], -q[2], -q[3]] : q;
      values.set(before, 4 * f);
    }
    tracks.push({ joint: joint.name, path: "rotation", interpolation: "LINEAR", times, values });
  });
  return { name, tracks };
}
