import { evaluate, evaluationRoom } from "../evaluate/evaluate";
import { turnOf } from "../evaluate/turns";
import { multiplyQuat } from "../math/quat";
import type { Character } from "../model/character";
import { solesOf, type Soles } from "../measure/soles";
import { contactsOf, FEET, legLength, slidesFrom, slipOf, stretches, trackSoles, type Foot } from "../clips/contacts";
import { wayOf } from "../clips/travel";
import { travellerOf } from "../clips/fitClip";
import { cut } from "../clips/loops";
import { setPlaceAt, setTurnAt, type Motion } from "../clips/motion";
import type { FrameExcess, FrameReading } from "./watchFrame";
import { momentAt } from "./momentAt";
import { endOf, trialFrames, type Trial } from "./trial";

/** A trial as the movement that a character makes of it, frame by frame. */
export function motionOfTrial(character: Character, trial: Trial): Motion | null {
  const { skeleton } = character;
  if (!skeleton || skeleton.joints.length === 0) return null;
  const frames = trialFrames(trial);
  const count = skeleton.joints.length;
  const traveller = travellerOf({ ...character, skeleton });
  const motion: Motion = {
    skeleton,
    frames,
    fps: trial.fps,
    traveller,
    turns: new Float64Array(4 * count * frames),
    places: new Float64Array(3 * frames),
    keyed: new Uint8Array(count).fill(1),
  };
  const room = evaluationRoom(character);
  for (let f = 0; f < frames; f++) {
    const { turns, travel } = evaluate(character, momentAt(character, trial, f / trial.fps, false), room);
    skeleton.joints.forEach(({ rotation }, j) => setTurnAt(motion, f, j, multiplyQuat(rotation, turnOf(turns, j))));
    const rest = skeleton.joints[traveller]!.translation;
    const by = (c: number): number => (travel ? travel[3 * traveller + c]! : 0);
    setPlaceAt(motion, f, [rest[0] + by(0), rest[1] + by(1), rest[2] + by(2)]);
  }
  return motion;
}

/** A sole this deep under the floor is told, metres. */
const UNDER = 0.01;

/** Frames at which another piece of the body lane begins or ends: between them the floor may move in its own way. */
function cutsOf(trial: Trial, frames: number): number[] {
  const cuts = trial.lanes.body.flatMap((p) => [Math.round(p.start * trial.fps), Math.round(endOf(p) * trial.fps) + 1]);
  return [...new Set([0, frames, ...cuts])].filter((f) => f >= 0 && f <= frames).sort((a, b) => a - b);
}

interface Stand {
  readonly stands: Readonly<Record<Foot, Uint8Array>>;
  readonly height: Readonly<Record<Foot, Float64Array>>;
  /** By frame, how the floor moves. */
  readonly ground: (frame: number) => readonly [number, number];
}

/** When feet stand, piece by piece: a figure that walks on the spot in one may travel in the next. */
function standOf(character: Character, trial: Trial, motion: Motion, soles: Soles): Stand {
  const leg = legLength(character);
  const stands = { left: new Uint8Array(motion.frames), right: new Uint8Array(motion.frames) };
  const height = { left: new Float64Array(motion.frames), right: new Float64Array(motion.frames) };
  const grounds: { readonly from: number; readonly ground: readonly [number, number] }[] = [];
  const cuts = cutsOf(trial, motion.frames);
  cuts.slice(0, -1).forEach((from, i) => {
    const part = cut(motion, from, cuts[i + 1]! - 1);
    const found = contactsOf(part, trackSoles(part, soles), leg);
    for (const foot of FEET) {
      stands[foot].set(found.stands[foot], from);
      height[foot].set(found.height[foot], from);
    }
    grounds.unshift({ from, ground: found.ground });
  });
  return { stands, height, ground: (frame) => grounds.find((g) => frame >= g.from)?.ground ?? [0, 0] };
}

/** What the body lane draws: when feet stand, as frames from and to, and the hips' height, metres, frame by frame. */
export interface BodyLane {
  readonly stands: Readonly<Record<Foot, readonly (readonly [number, number])[]>>;
  readonly hips: Float32Array;
}

/** How a figure stands and how high it carries its hips over a trial; null where its feet are not known. */
export function bodyLane(character: Character, trial: Trial): BodyLane | null {
  const soles = solesOf(character);
  const motion = soles && motionOfTrial(character, trial);
  if (!soles || !motion) return null;
  const { stands } = standOf(character, trial, motion, soles);
  const hips = Float32Array.from(wayOf(motion), ([, y]) => y);
  return { stands: { left: stretches(stands.left), right: stretches(stands.right) }, hips };
}

/**
 * Frames in which a sole is under the floor or a standing foot slides. @param slide limit, metres a second; null: not
 * read.
 */
export function watchFeet(character: Character, trial: Trial, slide: number | null): FrameReading[] {
  const soles = solesOf(character);
  const motion = soles && motionOfTrial(character, trial);
  if (!soles || !motion) return [];
  const tracks = trackSoles(motion, soles);
  const { stands, height, ground } = standOf(character, trial, motion, soles);
  const begins = new Set(cutsOf(trial, motion.frames));
  const out: FrameReading[] = [];
  for (let f = 0; f < motion.frames; f++) {
    const over: FrameExcess[] = [];
    for (const foot of FEET) {
      const place = `${foot} foot`;
      const joint = motion.skeleton.joints[soles[foot][0]!.joint]!.name;
      const base = { part: null, joint, shape: null, place } as const;
      if (-height[foot][f]! > UNDER)
        over.push({
          ...base,
          check: "clip.under-ground",
          severity: "warn",
          value: -1000 * height[foot][f]!,
          unit: "mm",
          limit: 10,
        });
      if (slide === null || f + 1 >= motion.frames || begins.has(f + 1)) continue;
      if (!slidesFrom(stands[foot], f, motion.fps)) continue;
      const speed = motion.fps * Math.hypot(...slipOf(tracks, foot, f, 1 / motion.fps, ground(f)));
      if (speed > slide)
        over.push({ ...base, check: "clip.foot-slide", severity: "warn", value: speed, unit: "m/s", limit: slide });
    }
    if (over.length) out.push({ frame: f, worst: Math.max(...over.map((o) => o.value / o.limit)), over });
  }
  return out;
}
