import { sampleWeight } from "../evaluate/sampleTrack";
import type { WeightTrack } from "../model/character";
import { RATE } from "./demands";
import { onTop } from "./mixWeights";
import type { Weights } from "./mouth";
import type { Spoken } from "./speak";
import { thinned } from "./thinCurve";

/** Weights of all shapes at a time: the speech over what stands under it. */
export function shownAt(
  { curves, keep, givesWay }: Pick<Spoken, "curves" | "keep" | "givesWay">,
  under: Weights,
  seconds: number,
): Record<string, number> {
  const speech = Object.fromEntries(curves.map((c) => [c.shape, sampleWeight(c, seconds)]));
  const gives = new Set(givesWay);
  return onTop(speech, under, sampleWeight(keep, seconds), (shape) => gives.has(shape));
}

/** A line's curves with what stands under it laid in, for a clip that plays alone. */
export function curvesOver(spoken: Spoken, under: Weights): readonly WeightTrack[] {
  if (Object.keys(under).length === 0) return spoken.curves;
  const frames = Math.round(spoken.seconds * RATE) + 1;
  const times = Float32Array.from({ length: frames }, (_, f) => f / RATE);
  const all = new Map<string, Float32Array>();
  for (let f = 0; f < frames; f++)
    for (const [shape, w] of Object.entries(shownAt(spoken, under, f / RATE))) {
      const values = all.get(shape) ?? new Float32Array(frames);
      values[f] = w;
      all.set(shape, values);
    }
  return [...all].map(([shape, values]) => thinned(shape, times, values));
}
