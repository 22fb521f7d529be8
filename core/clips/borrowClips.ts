import type { Character, Clip } from "../model/character";
import { bringClip, sameRestClip } from "./bringClip";
import { fitClip } from "./fitClip";
import { motionFromClip } from "./sourceMotion";

/**
 * Clips of another character on the joints of this one, under the names that they have there, so that one trial plays
 * on both: as they were before they were fitted, then fitted to this body as they are to the other.
 */
export function borrowClips(to: Character, from: Character, names: readonly string[]): Clip[] {
  const { skeleton } = from;
  if (!skeleton || !to.skeleton) return [];
  return names.flatMap((name) => {
    const clip = from.clips.find((c) => c.name === name);
    if (!clip) return [];
    const weights = ((clip.fit ? clip.fit.weights : clip.weights) ?? []).filter((w) =>
      to.shapes.some((s) => s.name === w.shape),
    );
    if (!clip.tracks.length) return weights.length ? [{ name, tracks: [], weights }] : [];
    const plain: Clip = { name, tracks: clip.fit?.tracks ?? clip.tracks };
    const source = motionFromClip(skeleton, plain, from.jointMap);
    const brought = sameRestClip(to, skeleton, source, plain) ?? bringClip(to, source, name).clip;
    const whole: Clip = weights.length ? { ...brought, weights } : brought;
    return [clip.fit ? fitClip(to, whole, clip.fit.fitting) : whole];
  });
}
