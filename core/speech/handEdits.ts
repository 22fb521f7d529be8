import { z } from "zod";
import { isPhone, type Phone, type SpokenLine, type SpokenWord } from "./phones";

/**
 * A change made by hand to one phone of a line. It names the phone by its word and its place in it, not by its time, so
 * that it finds it again when the line is spoken anew, by another voice or with another word before it.
 */
export const handEditSchema = z.object({
  /** Index of the word in the line, and what it was; -1 for silence, its place then counted over the line. */
  word: z.number().int().min(-1).max(5000),
  text: z.string().max(200),
  phone: z.number().int().min(0).max(10_000),
  /** ARPAbet without stress that it is spoken as. */
  as: z.string().refine(isPhone, "is no phone of ARPAbet").optional(),
  /** How much of its viseme it does. */
  amount: z.number().min(0).max(1.5).optional(),
  /** How much later it begins and ends than it was made, seconds. */
  begins: z.number().min(-5).max(5).optional(),
  ends: z.number().min(-5).max(5).optional(),
});
export type HandEdit = z.infer<typeof handEditSchema>;

/** No phone is made shorter than this by hand, seconds. */
const SHORTEST = 0.015;

/** Where a phone stands: its word's index and its place in it; for silence its place among the silences. */
export interface PhonePlace {
  readonly word: number;
  readonly phone: number;
}

export function placesOf({ words, phones }: Pick<SpokenLine, "words" | "phones">): PhonePlace[] {
  const counts = new Map<number, number>();
  return phones.map((p) => {
    const middle = (p.from + p.to) / 2;
    const word = p.phone === "sil" ? -1 : words.findIndex((w) => middle >= w.from && middle < w.to);
    const phone = counts.get(word) ?? 0;
    counts.set(word, phone + 1);
    return { word, phone };
  });
}

/** The index of the word that an edit means: the same word at its place, else the nearest of the same text; or null. */
function wordMeant(edit: HandEdit, words: readonly SpokenWord[]): number | null {
  if (edit.word < 0 || words[edit.word]?.text === edit.text) return edit.word;
  const same = words.flatMap((w, i) => (w.text === edit.text ? [i] : []));
  if (!same.length) return null;
  return same.reduce((a, b) => (Math.abs(b - edit.word) < Math.abs(a - edit.word) ? b : a));
}

/**
 * A line with its changes by hand. Borders move no further than their neighbours leave room.
 * @returns the line, and the edits whose word is gone: they wait for it.
 */
export function withHand(
  line: SpokenLine,
  edits: readonly HandEdit[],
): { readonly line: SpokenLine; readonly waiting: readonly HandEdit[] } {
  if (edits.length === 0) return { line, waiting: [] };
  const places = placesOf(line);
  const phones: Phone[] = line.phones.map((p) => ({ ...p }));
  const borders = [phones[0]?.from ?? 0, ...phones.map((p) => p.to)];
  const moved = borders.map(() => 0);
  const waiting: HandEdit[] = [];
  for (const edit of edits) {
    const word = wordMeant(edit, line.words);
    const i = word === null ? -1 : places.findIndex((p) => p.word === word && p.phone === edit.phone);
    if (i < 0) {
      waiting.push(edit);
      continue;
    }
    const { as, amount, begins, ends } = edit;
    phones[i] = { ...phones[i]!, ...(as ? { phone: as } : {}), ...(amount === undefined ? {} : { amount }) };
    if (begins) moved[i] = begins;
    if (ends) moved[i + 1] = ends;
  }
  const now = borders.map((b, k) => b + moved[k]!);
  // from the first on: a border that was moved past its neighbours stops short of them
  for (let k = 1; k < now.length; k++) now[k] = Math.max(now[k]!, now[k - 1]! + SHORTEST);
  const end = borders[borders.length - 1]!;
  now[now.length - 1] = Math.min(now[now.length - 1]!, Math.max(end, now[now.length - 2]! + SHORTEST));
  for (let k = now.length - 2; k > 0; k--) now[k] = Math.min(now[k]!, now[k + 1]! - SHORTEST);
  const timed = phones.map((p, k) => ({ ...p, from: now[k]!, to: now[k + 1]! }));
  const words = line.words.map((w, i) => {
    const own = timed.filter((_, k) => places[k]!.word === i);
    return own.length ? { ...w, from: own[0]!.from, to: own[own.length - 1]!.to } : w;
  });
  return { line: { seconds: Math.max(line.seconds, now[now.length - 1]!), words, phones: timed }, waiting };
}

/** The edits with one phone's changed; an edit that says nothing any more goes. */
export function withEdit(
  edits: readonly HandEdit[],
  line: SpokenLine,
  index: number,
  change: Partial<Pick<HandEdit, "as" | "amount" | "begins" | "ends">>,
): HandEdit[] {
  const place = placesOf(line)[index]!;
  const text = line.words[place.word]?.text ?? "";
  const isIt = (e: HandEdit): boolean => e.phone === place.phone && wordMeant(e, line.words) === place.word;
  const old = edits.find(isIt);
  const next: HandEdit = { ...(old ?? { phone: place.phone }), word: place.word, text, ...change };
  const bare = { ...next };
  if (bare.as === line.phones[index]!.phone) delete bare.as;
  if (bare.amount === 1) delete bare.amount;
  for (const key of ["begins", "ends"] as const) if (Math.abs(bare[key] ?? 0) < 5e-4) delete bare[key];
  const says =
    bare.as !== undefined || bare.amount !== undefined || bare.begins !== undefined || bare.ends !== undefined;
  return [...edits.filter((e) => !isIt(e)), ...(says ? [bare] : [])];
}

/** A time of one line on another that was spoken anew: by its word where that is there again, else by its share. */
export function carriedTime(from: SpokenLine, to: SpokenLine, seconds: number): number {
  const i = from.words.findIndex((w) => seconds >= w.from && seconds <= w.to);
  const word = from.words[i];
  const found = word ? wordMeant({ word: i, text: word.text, phone: 0 }, to.words) : null;
  const there = found === null ? undefined : to.words[found];
  if (!word || !there) return from.seconds > 0 ? (seconds * to.seconds) / from.seconds : 0;
  return there.from + ((seconds - word.from) / (word.to - word.from)) * (there.to - there.from);
}
