import { evaluate, evaluationRoom } from "../evaluate/evaluate";
import { turnOf } from "../evaluate/turns";
import { multiplyQuat } from "../math/quat";
import type { Character } from "../model/character";
import { solesOf } from "../measure/soles";
import { contactsOf, FEET, legLength, slipOf, trackSoles } from "../clips/contacts";
import { travellerOf } from "../clips/fitClip";
import { setPlaceAt, setTurnAt, type Motion } from "../clips/motion";
import type { FrameExcess, FrameReading } from "./watchFrame";
import { momentAt } from "./momentAt";
import { trialFrames, type Trial } from "./trial";

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

/** Frames in which a sole is under the floor or a standing foot slides. @param slide limit, metres a second; null: not read. */
export function watchFeet(character: Character, trial: Trial, slide: number | null): FrameReading[] {
  const soles = solesOf(character);
  const motion = soles && motionOfTrial(character, trial);
  if (!soles || !motion) return [];
  const tracks = trackSoles(motion, soles);
  const { stands, height, ground } = contactsOf(motion, tracks, legLength(character));
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
      if (slide === null || f + 1 >= motion.frames || !stands[foot][f] || !stands[foot][f + 1]) continue;
      const speed = motion.fps * Math.hypot(...slipOf(tracks, foot, f, 1 / motion.fps, ground));
      if (speed > slide)
        over.push({ ...base, check: "clip.foot-slide", severity: "warn", value: speed, unit: "m/s", limit: slide });
    }
    if (over.length) out.push({ frame: f, worst: Math.max(...over.map((o) => o.value / o.limit)), over });
  }
  return out;
}
