import type { Character, WeightTrack } from "../model/character";
import { visemesAt } from "./dominance";
import { makeMouthReader, visemeFaces, type MouthReader, type VisemeFace, type Weights } from "./mouth";
import { isAtTeeth, isSealed, isVowel, segmentsOf, visemeOf, type Phone, type SpokenLine } from "./phones";

/** Limits of a spoken mouth: metres and seconds (our own choice; 40 ms is common practice, no source). */
const SEALED = 0.0005;
const AT_TEETH = 0.0015;
export const CLOSED_FOR = 0.04;
/** A vowel opens at least this share of what its viseme opens alone; one shorter than this is let go, seconds. */
const OPENS = 0.7;
const SHORT_VOWEL = 0.06;
/** The lips are on their way for so long at most, seconds. */
const LEAD = 0.07;
/** Frames a second of the curves: a closure holds several. */
const RATE = 100;

export type SpeechCheck = "speech.closure" | "speech.contact" | "speech.opening" | "speech.overlap" | "speech.speed";
export interface SpeechScore {
  readonly check: SpeechCheck;
  readonly phone: string;
  /** Seconds. */
  readonly at: number;
  readonly value: number;
  readonly unit: "ms" | "mm" | "ratio" | "m/s";
  readonly limit: number;
  readonly met: boolean;
  /** What is missing where it is not met. */
  readonly todo: string;
}
export interface Spoken {
  readonly seconds: number;
  /** Keys of each shape, drawn straight from one to the next. */
  readonly curves: readonly WeightTrack[];
  readonly scores: readonly SpeechScore[];
  /** Visemes of this line and what they are made of here. */
  readonly faces: readonly VisemeFace[];
}
export interface Manner {
  /** How much of its visemes the mouth does, 0..1.5. */
  readonly amount?: number;
  /** Shapes that stand under the speech; they give way where lips must meet. */
  readonly under?: Weights;
}

/** A stretch in which the mouth is led to a face: how far, and how much of what stands under it stays. */
interface Demand {
  readonly from: number;
  readonly to: number;
  /** Beginning and end of the way there and back. */
  readonly leads: readonly [number, number];
  readonly face: Weights;
  readonly blend: number;
  readonly keep: number;
}

const mixed = (a: Weights, b: Weights, t: number): Record<string, number> => {
  const out: Record<string, number> = {};
  for (const name of new Set([...Object.keys(a), ...Object.keys(b)]))
    out[name] = (1 - t) * (a[name] ?? 0) + t * (b[name] ?? 0);
  return out;
};
const onTop = (speech: Weights, under: Weights, keep: number): Record<string, number> => {
  const out: Record<string, number> = { ...speech };
  for (const [name, w] of Object.entries(under)) out[name] = Math.min(1, (out[name] ?? 0) + keep * w);
  return out;
};

/** Least t of 0..1 at which a test holds, to a hundredth; null where it does not at 1. It holds from there on. */
function leastThat(test: (t: number) => boolean): number | null {
  if (test(0)) return 0;
  if (!test(1)) return null;
  let [low, high] = [0, 1];
  while (high - low > 0.01) {
    const middle = (low + high) / 2;
    if (test(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/**
 * The mouth of a spoken line on a character: visemes by dominance, then the demands of its sounds met on the mesh: lips
 * that are measured shut at p, b, m, a lower lip measured at the teeth at f, v, vowels that still open. What cannot be
 * met is scored and told.
 */
export function speak(character: Character, line: SpokenLine, { amount = 1, under = {} }: Manner = {}): Spoken {
  const faces = visemeFaces(character);
  const segments = segmentsOf(line.phones);
  const reader = makeMouthReader(character);
  const faceOf = (viseme: number): Weights => faces[viseme - 1]?.weights ?? {};
  const plainAt = (t: number): Record<string, number> => {
    const out: Record<string, number> = {};
    for (const [viseme, w] of visemesAt(segments, t))
      for (const [shape, share] of Object.entries(faceOf(viseme)))
        out[shape] = Math.min(1, (out[shape] ?? 0) + amount * w * share);
    return out;
  };
  const demands = reader ? demandsOf(line.phones, reader, faceOf, plainAt, under) : [];
  const at = (t: number): Record<string, number> => demandedAt(plainAt(t), demands, under, t);
  const frames = Math.round(line.seconds * RATE) + 1;
  const times = Float32Array.from({ length: frames }, (_, f) => f / RATE);
  const all = new Map<string, Float32Array>();
  times.forEach((t, f) => {
    for (const [shape, w] of Object.entries(at(t))) {
      const values = all.get(shape) ?? new Float32Array(frames);
      values[f] = w;
      all.set(shape, values);
    }
  });
  const curves = [...all].map(([shape, values]) => thinned(shape, times, values));
  const spoken = new Set(segments.map((s) => s.viseme));
  return {
    seconds: line.seconds,
    curves,
    scores: [...(reader ? mouthScores(line, reader, at, faceOf) : []), ...overlapScores(segments, line, amount)],
    faces: faces.filter((f) => spoken.has(f.viseme)),
  };
}

function demandsOf(
  phones: readonly Phone[],
  reader: MouthReader,
  faceOf: (viseme: number) => Weights,
  plainAt: (t: number) => Record<string, number>,
  under: Weights,
): Demand[] {
  const out: Demand[] = [];
  const middle = (p: Phone): number => (p.from + p.to) / 2;
  phones.forEach((p, i) => {
    const [sealed, teeth] = [isSealed(p.phone), isAtTeeth(p.phone)];
    const vowel = isVowel(p.phone) && p.to - p.from >= SHORT_VOWEL;
    if (!sealed && !teeth && !vowel) return;
    const half = vowel ? 0 : Math.min(0.06, Math.max(CLOSED_FOR / 2 + 0.5 / RATE, 0.35 * (p.to - p.from)));
    const [from, to] = [middle(p) - half, middle(p) + half];
    // the way there begins no sooner than the middle of the sound before, and ends no later than that of the next
    const before = phones[i - 1];
    const after = phones[i + 1];
    const leads = [
      Math.max(from - LEAD, before ? Math.min(middle(before), from - 0.01) : from - LEAD),
      Math.min(to + LEAD, after ? Math.max(middle(after), to + 0.01) : to + LEAD),
    ] as const;
    const face = faceOf(visemeOf(p.phone));
    const asked = (vowel ? [middle(p)] : [from, middle(p), to]).map(plainAt);
    const alone = vowel ? reader.gap(face) : 0;
    const fits = (blend: number, keep: number): boolean =>
      asked.every((w) => {
        const shown = onTop(mixed(w, face, blend), under, keep);
        if (sealed) return reader.gap(shown) < 0.8 * SEALED;
        if (teeth) return (reader.toTeeth(shown) ?? 0) < 0.9 * AT_TEETH;
        return reader.gap(shown) >= 1.02 * OPENS * alone;
      });
    if (vowel) {
      // an unstressed vowel is asked for less: only what its neighbours took from it is given back
      const blend = p.stress === 0 ? 0 : leastThat((t) => fits(t, 1));
      if (blend) out.push({ from, to, leads, face, blend, keep: 1 });
      return;
    }
    const blend = leastThat((t) => fits(t, 1));
    if (blend !== null) {
      if (blend > 0) out.push({ from, to, leads, face, blend, keep: 1 });
      return;
    }
    const gives = leastThat((g) => fits(1, 1 - g));
    out.push({ from, to, leads, face, blend: 1, keep: 1 - (gives ?? 1) });
  });
  return out;
}

const smooth = (t: number): number => t * t * (3 - 2 * t);
const partOf = ({ from, to, leads }: Demand, t: number): number => {
  if (t >= from && t <= to) return 1;
  if (t <= leads[0] || t >= leads[1]) return 0;
  return smooth(t < from ? (t - leads[0]) / (from - leads[0]) : (leads[1] - t) / (leads[1] - to));
};

/** Weights once demands are met, those that shut the mouth last: they are never drawn open again. */
function demandedAt(
  plain: Record<string, number>,
  demands: readonly Demand[],
  under: Weights,
  t: number,
): Record<string, number> {
  let out = plain;
  let keep = 1;
  const now = demands
    .map((d) => ({ d, part: partOf(d, t) }))
    .filter((x) => x.part > 0)
    .sort((a, b) => a.part - b.part);
  for (const { d, part } of now) {
    out = mixed(out, d.face, part * d.blend);
    keep = Math.min(keep, 1 - part * (1 - d.keep));
  }
  return onTop(out, under, keep);
}

/** Weights closer to the straight way than this are left out as keys. */
const CLOSE = 0.002;

/** A curve with the keys that it needs (Ramer 1972, Douglas & Peucker 1973). */
function thinned(shape: string, times: Float32Array, values: Float32Array): WeightTrack {
  const kept = new Set([0, times.length - 1]);
  const split = (a: number, b: number): void => {
    let [worst, at] = [CLOSE, -1];
    for (let k = a + 1; k < b; k++) {
      const t = (k - a) / (b - a);
      const off = Math.abs(values[k]! - (1 - t) * values[a]! - t * values[b]!);
      if (off > worst) [worst, at] = [off, k];
    }
    if (at < 0) return;
    kept.add(at);
    split(a, at);
    split(at, b);
  };
  split(0, times.length - 1);
  const keys = [...kept].sort((a, b) => a - b);
  return {
    shape,
    interpolation: "LINEAR",
    times: Float32Array.from(keys, (k) => times[k]!),
    values: Float32Array.from(keys, (k) => values[k]!),
  };
}

/** Samples of a closure are so far apart, seconds. */
const STEP = 0.004;

function mouthScores(
  { phones }: SpokenLine,
  reader: MouthReader,
  at: (t: number) => Record<string, number>,
  faceOf: (viseme: number) => Weights,
): SpeechScore[] {
  return phones.flatMap((p): SpeechScore[] => {
    const middle = (p.from + p.to) / 2;
    const { phone } = p;
    const missing = Object.keys(faceOf(visemeOf(phone))).length === 0;
    if (isSealed(phone)) {
      let [run, longest, least] = [0, 0, Infinity];
      for (let t = Math.min(p.from, middle - 0.03); t <= Math.max(p.to, middle + 0.03); t += STEP) {
        const gap = reader.gap(at(t));
        least = Math.min(least, gap);
        run = gap < SEALED ? run + STEP : 0;
        longest = Math.max(longest, run);
      }
      const met = longest >= CLOSED_FOR - 1e-9;
      const todo = met
        ? ""
        : missing
          ? "There is no viseme for p, b, m: make one."
          : `The lips stay ${(1000 * least).toFixed(1)} mm apart: seal them in viseme 1.`;
      return [
        {
          check: "speech.closure",
          phone,
          at: middle,
          value: 1000 * longest,
          unit: "ms",
          limit: 1000 * CLOSED_FOR,
          met,
          todo,
        },
      ];
    }
    if (isAtTeeth(phone)) {
      const far = reader.toTeeth(at(middle));
      if (far === null) return [];
      const met = far < AT_TEETH;
      const todo = met
        ? ""
        : missing
          ? "There is no viseme for f, v: make one."
          : "Bring the lower lip to the teeth in viseme 2.";
      return [
        {
          check: "speech.contact",
          phone,
          at: middle,
          value: 1000 * far,
          unit: "mm",
          limit: 1000 * AT_TEETH,
          met,
          todo,
        },
      ];
    }
    if (isVowel(phone) && p.stress > 0 && p.to - p.from >= SHORT_VOWEL) {
      const alone = reader.gap(faceOf(visemeOf(phone)));
      if (alone < 2 * SEALED) return []; // its viseme opens nothing that could be kept
      const value = reader.gap(at(middle)) / alone;
      const met = value >= OPENS;
      return [
        {
          check: "speech.opening",
          phone,
          at: middle,
          value,
          unit: "ratio",
          limit: OPENS,
          met,
          todo: met ? "" : "Its neighbours leave it no room: lengthen it.",
        },
      ];
    }
    return [];
  });
}

function overlapScores(
  segments: ReturnType<typeof segmentsOf>,
  { seconds }: SpokenLine,
  amount: number,
): SpeechScore[] {
  let [most, when] = [0, 0];
  for (let t = 0; t <= seconds; t += 1 / RATE) {
    const sum = amount * [...visemesAt(segments, t).values()].reduce((a, b) => a + b, 0);
    if (sum > most) [most, when] = [sum, t];
  }
  const met = most <= 1 + 1e-6;
  return [
    {
      check: "speech.overlap",
      phone: "",
      at: when,
      value: most,
      unit: "ratio",
      limit: 1,
      met,
      todo: met ? "" : "Take the amount down.",
    },
  ];
}
