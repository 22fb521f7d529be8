import { clipOfMotion } from "../clips/motion";
import { evaluate, evaluationRoom } from "../evaluate/evaluate";
import type { Character, Clip, WeightTrack } from "../model/character";
import { momentAt } from "./momentAt";
import { speakTrial } from "./speakTrial";
import { motionOfTrial } from "./watchFeet";
import { trialFrames, type Trial } from "./trial";

/** A weight that never goes further than this plays nothing. */
const SEEN = 1e-4;

/**
 * Weights of the shapes that a trial's pieces play, frame by frame; those that never move are left out.
 * @param drivers whether correctives and combinations are written too: for players that cannot drive shapes.
 */
export function bakedWeights(character: Character, trial: Trial, drivers = false): WeightTrack[] {
  const frames = trialFrames(trial);
  const times = Float32Array.from({ length: frames }, (_, f) => f / trial.fps);
  const room = evaluationRoom(character);
  const all = character.shapes.map(() => new Float32Array(frames));
  for (let f = 0; f < frames; f++)
    evaluate(character, momentAt(character, trial, f / trial.fps, drivers), room).weights.forEach((w, s) => {
      all[s]![f] = w;
    });
  return character.shapes.flatMap((shape, s): WeightTrack[] =>
    all[s]!.some((w) => Math.abs(w) > SEEN)
      ? [{ shape: shape.name, interpolation: "LINEAR", times, values: all[s]! }]
      : [],
  );
}

/**
 * A trial as one clip of the character, frame by frame: turns of all joints, the pelvis' way, weights of the shapes
 * that pieces play. Correctives are left to their drivers unless they are asked for. Null without a skeleton.
 */
export function bakeTrial(character: Character, trial: Trial, name: string, drivers = false): Clip | null {
  speakTrial(character, trial);
  const motion = motionOfTrial(character, trial);
  if (!motion) return null;
  const weights = bakedWeights(character, trial, drivers);
  return { ...clipOfMotion(motion, name), ...(weights.length ? { weights } : {}) };
}
