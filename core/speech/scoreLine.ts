import { VISEME_SOUNDS } from "../shapes/coverage/unitNames";
import { AT_EDGE, AT_TEETH, CLOSED_FOR, needOf, OPENS, RATE, SEALED } from "./demands";
import type { MouthReader, Weights } from "./mouth";
import { isSealed, SILENCE, visemeOf, type Phone } from "./phones";

export const SPEECH_CHECKS = [
  "speech.closure",
  "speech.contact",
  "speech.teeth",
  "speech.opening",
  "speech.timing",
  "speech.speed",
  "speech.overlap",
] as const;
export type SpeechCheck = (typeof SPEECH_CHECKS)[number];
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

/** A closure is followed in such steps, seconds. */
const STEP = 0.005;
/** Farther than this from its middle no closure is followed, seconds. */
const FAR = 0.2;
/** Lips may shut so long before their sound begins, and must so long before it ends, seconds. Our own choice. */
const [EARLY, BEFORE_BURST] = [0.12, 0.02];
/** Fastest movement of lips and jaw, m/s (measured speakers stay well under it; our own choice). */
const FAST = 0.4;

/** What is scored: the mouth as the curves leave it, with what stands under it. */
export interface ScoredMouth {
  readonly reader: MouthReader;
  readonly shownAt: (t: number) => Weights;
  readonly faceOf: (viseme: number) => Weights;
}

/** Each sound that asks for something, and what the mouth does. */
export const scorePhones = (phones: readonly Phone[], mouth: ScoredMouth): SpeechScore[] =>
  phones.flatMap((p, i): SpeechScore[] => {
    const need = needOf(p);
    if (need === "sealed") return closureScores(p, phones[i - 1], mouth);
    if (need === "teeth") return nearScore("speech.contact", p, mouth, mouth.reader.toTeeth, AT_TEETH);
    if (need === "edge") return nearScore("speech.teeth", p, mouth, mouth.reader.teeth, AT_EDGE);
    return need === "open" && p.stress > 0 ? openingScore(p, mouth) : [];
  });

const isMissing = ({ phone }: Phone, { faceOf }: ScoredMouth): boolean =>
  Object.keys(faceOf(visemeOf(phone))).length === 0;

/** How long the lips are shut, followed from the middle both ways; and whether they shut in time. */
function closureScores(p: Phone, before: Phone | undefined, mouth: ScoredMouth): SpeechScore[] {
  const { reader, shownAt } = mouth;
  const middle = (p.from + p.to) / 2;
  let least = Infinity;
  const isShut = (t: number): boolean => {
    const gap = reader.gap(shownAt(t));
    least = Math.min(least, gap);
    return gap < SEALED;
  };
  let [from, to] = [middle, middle];
  const shut = isShut(middle);
  if (shut) {
    // two steps at a time, and the last one asked for once more
    while (middle - from < FAR && isShut(from - 2 * STEP)) from -= 2 * STEP;
    if (isShut(from - STEP)) from -= STEP;
    while (to - middle < FAR && isShut(to + 2 * STEP)) to += 2 * STEP;
    if (isShut(to + STEP)) to += STEP;
  }
  const met = to - from >= CLOSED_FOR - 1e-9;
  const todo = isMissing(p, mouth)
    ? "There is no viseme for p, b, m: make one."
    : shut
      ? "It is too short: slow this phone."
      : `The lips stay ${(1000 * least).toFixed(1)} mm apart: seal them in viseme 1.`;
  const { phone } = p;
  const closure: SpeechScore = {
    check: "speech.closure",
    phone,
    at: middle,
    value: 1000 * (to - from),
    unit: "ms",
    limit: 1000 * CLOSED_FOR,
    met,
    todo: met ? "" : todo,
  };
  if (!shut) return [closure];
  // late: shut only as the sound is let go; early: shut while the sound before is still heard
  const late = Math.max(0.5 * (p.to - p.from), p.to - p.from - BEFORE_BURST);
  const after = from - p.from;
  // lips at rest, or on the sound before, may be shut already
  const opened = before !== undefined && before.phone !== SILENCE && !isSealed(before.phone);
  const inTime = after <= late && (!opened || after >= -EARLY);
  const late_ = after > late;
  return [
    closure,
    {
      check: "speech.timing",
      phone,
      at: middle,
      value: 1000 * after,
      unit: "ms",
      limit: 1000 * (late_ || inTime ? late : -EARLY),
      met: inTime,
      todo: inTime ? "" : late_ ? "The lips shut after the sound: begin this phone sooner." : "The lips shut too soon.",
    },
  ];
}

function nearScore(
  check: "speech.contact" | "speech.teeth",
  p: Phone,
  mouth: ScoredMouth,
  read: (weights: Weights) => number | null,
  limit: number,
): SpeechScore[] {
  const at = (p.from + p.to) / 2;
  const far = read(mouth.shownAt(at));
  if (far === null) return [];
  const met = far < limit;
  const viseme = visemeOf(p.phone);
  const what = check === "speech.contact" ? "Bring the lower lip to the teeth" : "Bring the rows of teeth together";
  const todo = isMissing(p, mouth)
    ? `There is no viseme for ${VISEME_SOUNDS[viseme - 1]!.split(" ").join(", ")}: make one.`
    : `${what} in viseme ${viseme}.`;
  return [
    { check, phone: p.phone, at, value: 1000 * far, unit: "mm", limit: 1000 * limit, met, todo: met ? "" : todo },
  ];
}

function openingScore(p: Phone, { reader, shownAt, faceOf }: ScoredMouth): SpeechScore[] {
  const at = (p.from + p.to) / 2;
  const alone = reader.gap(faceOf(visemeOf(p.phone)));
  if (alone < 2 * SEALED) return []; // its viseme opens nothing that could be kept
  const value = reader.gap(shownAt(at)) / alone;
  const met = value >= OPENS;
  const todo = met ? "" : "Its neighbours leave it no room: slow this phone.";
  return [{ check: "speech.opening", phone: p.phone, at, value, unit: "ratio", limit: OPENS, met, todo }];
}

/** The fastest that the middle of a lip or the jaw's teeth move, and in which sound. */
export function speedScore(phones: readonly Phone[], seconds: number, { reader, shownAt }: ScoredMouth): SpeechScore {
  let [most, when] = [0, 0];
  let before = reader.marks(shownAt(0));
  for (let f = 1; f <= seconds * RATE; f++) {
    const now = reader.marks(shownAt(f / RATE));
    for (let m = 0; m < 9; m += 3) {
      const v = RATE * Math.hypot(now[m]! - before[m]!, now[m + 1]! - before[m + 1]!, now[m + 2]! - before[m + 2]!);
      if (v > most) [most, when] = [v, (f - 0.5) / RATE];
    }
    before = now;
  }
  const met = most <= FAST;
  const phone = phones.find((p) => when >= p.from && when < p.to)?.phone ?? "";
  const todo = met ? "" : "The mouth moves faster than one can: slow this phone, or take the amounts down.";
  return { check: "speech.speed", phone, at: when, value: most, unit: "m/s", limit: FAST, met, todo };
}

/** The largest sum of the visemes' weights. @param sumAt by time. */
export function overlapScore(seconds: number, sumAt: (t: number) => number): SpeechScore {
  let [most, when] = [0, 0];
  for (let f = 0; f <= seconds * RATE; f++) {
    const sum = sumAt(f / RATE);
    if (sum > most) [most, when] = [sum, f / RATE];
  }
  const met = most <= 1 + 1e-6;
  const todo = met ? "" : "Take the amounts down.";
  return { check: "speech.overlap", phone: "", at: when, value: most, unit: "ratio", limit: 1, met, todo };
}
