import type { Character, Clip, Skeleton } from "../model/character";
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
  const tracks = clip.fit?.tracks ?? clip.tracks;
  const plain: Clip = { ...clip, tracks };
  delete (plain as { fit?: unknown }).fit;
  if (!fitting) return plain;
  const fitted = fittedMotion(character, clip, fitting);
  if (!fitted) return plain;
  return { ...plain, tracks: clipOfMotion(fitted.motion, clip.name).tracks, fit: { fitting, tracks } };
}
