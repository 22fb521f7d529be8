import type { Character, Clip, Skeleton, WeightTrack } from "../model/character";
import type { Fitting } from "../model/fitting";
import { humanoidMap } from "../skeleton/humanoidMap";
import { fitMotion, type Fitted } from "./fitMotion";
import { clipOfMotion, motionOf, type Motion } from "./motion";

/** The joint that a clip carries about: the pelvis, else the first root. */
export const travellerOf = ({ skeleton, jointMap }: Character & { readonly skeleton: Skeleton }): number =>
  humanoidMap(skeleton, jointMap).jointOfBone.get("hips") ?? 0;

/** A clip of the character frame by frame, as it was before it was fitted. */
export function unfitted(character: Character, clip: Clip): Motion | null {
  const { skeleton } = character;
  if (!skeleton || skeleton.joints.length === 0) return null;
  const tracks = clip.fit?.tracks ?? clip.tracks;
  return motionOf(skeleton, { name: clip.name, tracks }, travellerOf({ ...character, skeleton }));
}

/** A clip fitted anew, with what came of it; null where the character has no skeleton. */
export function fittedMotion(character: Character, clip: Clip, fitting: Fitting): Fitted | null {
  const motion = unfitted(character, clip);
  return motion && fitMotion(character, motion, fitting);
}

/**
 * A clip fitted in another way. What it was before the first fitting is kept with it. @param fitting null: as it came.
 */
export function fitClip(character: Character, clip: Clip, fitting: Fitting | null): Clip {
  const { name, fit } = clip;
  const tracks = fit?.tracks ?? clip.tracks;
  const weights = fit ? fit.weights : clip.weights;
  const plain: Clip = { name, tracks, ...(weights ? { weights } : {}) };
  const fitted = fitting && fittedMotion(character, clip, fitting);
  if (!fitting || !fitted) return plain;
  return {
    name,
    tracks: clipOfMotion(fitted.motion, name).tracks,
    ...(weights ? { weights: weights.map((w) => retimed(w, fitting)) } : {}),
    fit: { fitting, tracks, ...(weights ? { weights } : {}) },
  };
}

/** Keys of a weight where the loop's start and the speed bring them. */
const retimed = (track: WeightTrack, { loop, speed }: Fitting): WeightTrack => ({
  ...track,
  times: track.times.map((t) => (t - (loop?.from ?? 0)) / speed),
});
