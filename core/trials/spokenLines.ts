import type { SpeechMoment } from "../evaluate/moment";
import { sampleWeight } from "../evaluate/sampleTrack";
import type { Character } from "../model/character";
import { headAt } from "../speech/gestures";
import type { Spoken } from "../speech/speak";
import { LANES } from "./lanes";
import { endOf, type LinePiece, type Piece, type Trial } from "./trial";

/** Lines of a character are kept up to so many; the oldest go first. */
const MOST = 60;
const known = new WeakMap<Character, Map<string, Spoken>>();
const keys = new WeakMap<Trial, Map<string, string>>();

/** Every line of a trial. */
export const linesOf = (trial: Trial): LinePiece[] =>
  LANES.flatMap((lane) => trial.lanes[lane].filter((p): p is LinePiece => p.kind === "line"));

/** A piece as far as it counts; a take by its hash and how it was steadied, not by all of its keys. */
const told = (p: Piece): unknown =>
  p.kind === "take" && p.raw ? { ...p, face: { seconds: p.face.seconds, tolerance: p.face.tolerance } } : p;

/** What a spoken line depends on: itself, its manner, and what plays while it is spoken. */
export function keyOfLine(trial: Trial, piece: LinePiece): string {
  const all = keys.get(trial) ?? new Map<string, string>();
  keys.set(trial, all);
  const found = all.get(piece.id);
  if (found !== undefined) return found;
  const { line, hand, curves, manner, start, from, to, speed } = piece;
  const under = LANES.flatMap((lane) =>
    trial.lanes[lane].flatMap((p) =>
      p.kind !== "line" && p.on && p.start < endOf(piece) && endOf(p) > piece.start ? [told(p)] : [],
    ),
  );
  // a line that nothing stands under is the same wherever it is
  const place = under.length ? { start, from, to, speed, under } : {};
  const key = JSON.stringify({ line, hand, curves, manner, ...place });
  all.set(piece.id, key);
  return key;
}

/** A line as the character speaks it, if it was worked out. */
export const spokenOf = (character: Character, trial: Trial, piece: LinePiece): Spoken | null =>
  known.get(character)?.get(keyOfLine(trial, piece)) ?? null;

const shown = new WeakMap<Character, Map<string, Spoken>>();
/**
 * A line as it is shown: while it is worked out anew after a change, as it was before. One that never was plays
 * nothing.
 */
export function shownLine(character: Character, trial: Trial, piece: LinePiece): Spoken | null {
  const all = shown.get(character) ?? new Map<string, Spoken>();
  shown.set(character, all);
  const found = spokenOf(character, trial, piece);
  if (found) all.set(piece.id, found);
  return found ?? all.get(piece.id) ?? null;
}

export function keepSpoken(character: Character, key: string, spoken: Spoken): void {
  const all = known.get(character) ?? new Map<string, Spoken>();
  known.set(character, all);
  all.delete(key);
  all.set(key, spoken);
  for (const old of all.keys()) {
    if (all.size <= MOST) break;
    all.delete(old);
  }
}

/** What a spoken line does at a time of its own. */
export const speechMoment = (spoken: Spoken, seconds: number): SpeechMoment => ({
  kind: "speech",
  weights: Object.fromEntries(spoken.curves.map((c) => [c.shape, sampleWeight(c, seconds)])),
  keep: sampleWeight(spoken.keep, seconds),
  givesWay: spoken.givesWay,
  turns: spoken.head ? headAt(spoken.head, seconds) : {},
});

/** A time of a line on the ruler. */
export const onRuler = (p: Pick<LinePiece, "start" | "from" | "speed">, seconds: number): number =>
  p.start + (seconds - p.from) / p.speed;
