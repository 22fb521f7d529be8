import type { Character, WeightTrack } from "../model/character";
import { demandedAt, demandsOf, RATE } from "./demands";
import { visemesAt } from "./dominance";
import { gesturesOf, type Gestures } from "./gestures";
import { MOUTH_ONLY, type Manner } from "./manner";
import { onTop } from "./mixWeights";
import { mouthReaderOf, visemeFaces, type VisemeFace, type Weights } from "./mouth";
import { segmentsOf, type SpokenLine } from "./phones";
import { overlapScore, scorePhones, speedScore, type SpeechScore } from "./scoreLine";
import { thinned } from "./thinCurve";

export type { SpeechCheck, SpeechScore } from "./scoreLine";

export interface Spoken {
  readonly seconds: number;
  /** Keys of each shape, drawn straight from one to the next: the speech alone, with blinks and brows. */
  readonly curves: readonly WeightTrack[];
  /** How much of what stands under the speech stays, 0..1, as far as it moves the lips. */
  readonly keep: WeightTrack;
  /** Shapes that give way so. */
  readonly givesWay: readonly string[];
  /** Turns of neck and head; null where the head is left alone. */
  readonly head: Gestures["head"];
  readonly scores: readonly SpeechScore[];
  /** Visemes of this line and what they are made of here. */
  readonly faces: readonly VisemeFace[];
}

/** Shapes that stand under a line: always the same, or by time. */
export type Under = Weights | ((seconds: number) => Weights);

export interface SpeakOptions {
  readonly manner?: Manner;
  /** They give way where lips must meet. */
  readonly under?: Under;
  /** Weight that is added to a viseme by hand; what the sounds ask for is met over it. */
  readonly added?: (viseme: number, seconds: number) => number;
}

/**
 * The mouth of a spoken line on a character: visemes by dominance, then the demands of its sounds met on the mesh: lips
 * that are measured shut at p, b, m, a lower lip measured at the teeth at f, v, teeth together at s, z, sh, vowels that
 * still open. What cannot be met is scored and told.
 */
export function speak(character: Character, line: SpokenLine, options: SpeakOptions = {}): Spoken {
  const { manner = MOUTH_ONLY, under = {}, added } = options;
  const underAt = typeof under === "function" ? under : () => under;
  const faces = visemeFaces(character);
  const segments = segmentsOf(line.phones, manner);
  const reader = mouthReaderOf(character);
  const faceOf = (viseme: number): Weights => faces[viseme - 1]?.weights ?? {};
  const plainAt = (t: number): Weights => {
    const out: Record<string, number> = {};
    const said = visemesAt(segments, t, manner);
    for (let viseme = 1; viseme <= faces.length; viseme++) {
      const w = Math.max(0, (said.get(viseme) ?? 0) + (added?.(viseme, t) ?? 0));
      if (w === 0) continue;
      const face = faceOf(viseme);
      for (const shape in face) out[shape] = Math.min(1, (out[shape] ?? 0) + w * face[shape]!);
    }
    return out;
  };
  const demands = reader ? demandsOf(line.phones, { reader, faceOf, plainAt, underAt }) : [];
  const frames = Math.round(line.seconds * RATE) + 1;
  const said = Array.from({ length: frames }, (_, f) => demandedAt(plainAt(f / RATE), demands, f / RATE));
  const gestures = gesturesOf(character, line, manner);
  const spoken = new Set(segments.map((s) => s.viseme));
  const gives = (shape: string): boolean => reader?.lipShapes.has(shape) ?? false;
  const shownAt = (t: number): Weights => {
    const { weights, keep } = demandedAt(plainAt(t), demands, t);
    return onTop(weights, underAt(t), keep, gives);
  };
  const scores = reader
    ? [
        ...scorePhones(line.phones, { reader, shownAt, faceOf }),
        speedScore(line.phones, line.seconds, { reader, shownAt, faceOf }),
      ]
    : [];
  const sumAt = (t: number): number => [...visemesAt(segments, t, manner).values()].reduce((a, b) => a + b, 0);
  const times = Float32Array.from({ length: frames }, (_, f) => f / RATE);
  return {
    seconds: line.seconds,
    curves: [
      ...curvesOf(
        said.map((s) => s.weights),
        times,
      ),
      ...gestures.curves,
    ],
    keep: thinned(
      "",
      times,
      Float32Array.from(said, (s) => s.keep),
    ),
    givesWay: [...(reader?.lipShapes ?? [])],
    head: gestures.head,
    scores: [...scores, overlapScore(line.seconds, sumAt)],
    faces: faces.filter((f) => spoken.has(f.viseme)),
  };
}

function curvesOf(said: readonly Weights[], times: Float32Array): WeightTrack[] {
  const all = new Map<string, Float32Array>();
  said.forEach((weights, f) => {
    for (const shape in weights) {
      const values = all.get(shape) ?? new Float32Array(said.length);
      values[f] = weights[shape]!;
      all.set(shape, values);
    }
  });
  return [...all].map(([shape, values]) => thinned(shape, times, values));
}
