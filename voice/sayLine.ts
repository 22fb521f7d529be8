import { UserError } from "../core/model/userError";
import { withLoudness } from "../core/speech/loudness";
import { isPhone, SILENCE, type Phone, type SpokenLine } from "../core/speech/phones";
import type { Sound } from "../core/speech/sound";
import { countSaid, MOST_WORDS, spellOut, type Spelled } from "../core/speech/spellOut";
import { wordsOfPhones } from "../core/speech/wordsOfPhones";
import { lookedUp } from "./dictionary";
import { readWav } from "./readWav";
import { synthesise, type VoiceName } from "./flite";

/** Pronunciations of one's own: plain words and their phones, ARPAbet, stress digits behind vowels. */
export type OwnWords = Readonly<Record<string, string>>;
export interface SaidLine {
  readonly line: SpokenLine;
  readonly wav: Uint8Array;
  /** The same, read. */
  readonly sound: Sound;
  /** What was left out or read in a way that may surprise. */
  readonly notes: readonly string[];
}

/** Longest text, signs. */
const MOST_SIGNS = 5000;

/** The phones of a pronunciation that someone typed. @throws UserError for what is not ARPAbet. */
export function phonesTyped(word: string, typed: string): string[] {
  const phones = typed
    .trim()
    .toUpperCase()
    .split(/[\s-]+/)
    .filter(Boolean);
  const odd = phones.find((p) => !isPhone(p.replace(/[012]$/, "")) || p === SILENCE.toUpperCase());
  if (phones.length === 0 || odd !== undefined)
    throw new UserError(
      odd === undefined ? "It has no phones." : `"${odd.slice(0, 20)}" is no phone of ARPAbet.`,
      `pronunciation of ${word}`,
      "Write the phones as the CMU dictionary does, with spaces between: F EH1 R IY0.",
    );
  return phones;
}

/** A text as it is spelled out. @throws UserError for one that says nothing or too much. */
export function spelledText(text: string, own: OwnWords = {}): Spelled {
  if (text.length > MOST_SIGNS)
    throw new UserError(
      `The text has ${text.length} signs; a line holds up to ${MOST_SIGNS}.`,
      "text",
      "Cut it into lines of a few sentences.",
    );
  const spelled = spellOut(text, (w) => Object.hasOwn(own, w) || lookedUp(w) !== undefined);
  const count = countSaid(spelled);
  if (count === 0)
    throw new UserError(
      spelled.leftOut.length ? "None of it can be said in English." : "Nothing is said.",
      "text",
      "Write what is to be said in Latin letters.",
    );
  if (count > MOST_WORDS)
    throw new UserError(
      `The text has ${count} words; a line holds up to ${MOST_WORDS}.`,
      "text",
      "Cut it into lines of a few sentences.",
    );
  return spelled;
}

const ARPABET: Readonly<Record<string, string>> = { pau: SILENCE, ax: "AH" };
/** Silence that the synthesiser puts before and after a line is cut to this, seconds. */
const rounded = (t: number): number => Math.round(10_000 * t) / 10_000;

/**
 * A text spoken by the synthesiser: its phones with times, its words, its sound. Words are looked up in one's own list
 * and the CMU Pronouncing Dictionary; what is in neither is guessed by the synthesiser's letter rules and marked.
 */
export async function sayLine(text: string, voice: VoiceName, pace = 1, own: OwnWords = {}): Promise<SaidLine> {
  const spelled = spelledText(text, own);
  const words = spelled.tokens.flatMap((t) => t.said);
  const used = [...new Set(words)].filter((w) => Object.hasOwn(own, w));
  const lexicon = Object.fromEntries(used.map((w) => [w, phonesTyped(w, own[w]!)]));
  const plain = spelled.tokens.map((t) => t.said.join(" ") + t.pause).join(" ");
  const { phones: spoken, wav } = await synthesise(plain, voice, pace, lexicon);
  const heard = spoken.map(({ phone, to }, i): Phone => {
    const from = i ? spoken[i - 1]!.to : 0;
    return {
      phone: ARPABET[phone] ?? phone.toUpperCase(),
      from: rounded(from),
      to: rounded(to),
      stress: phone === "ax" ? 0 : 1,
    };
  });
  const known = words.map((w) => lexicon[w] ?? lookedUp(w));
  // a guessed word sounds as the synthesiser alone would say it
  const guesses = new Map<string, readonly string[]>();
  for (const [i, w] of words.entries()) if (!known[i] && !guesses.has(w)) guesses.set(w, await guessed(w, voice));
  const expected = words.map((w, i) => ({ phones: known[i] ?? guesses.get(w)! }));
  const { wordOf, phones } = wordsOfPhones(heard, expected);
  const sound = readWav(wav, "the line");
  const seconds = rounded(Math.max(sound.samples.length / sound.rate, heard[heard.length - 1]?.to ?? 0));
  const timed = phones.map((p, i) => (i === phones.length - 1 && p.phone === SILENCE ? { ...p, to: seconds } : p));
  return {
    line: { seconds, words: tokensInTime(spelled, wordOf, timed, known), phones: withLoudness(timed, sound) },
    wav,
    sound,
    notes: spelled.leftOut.length ? [`Left out, as it is not English: ${spelled.leftOut.slice(0, 8).join(" ")}.`] : [],
  };
}

/** A word by the synthesiser's letter rules; the first full vowel bears the stress. */
async function guessed(word: string, voice: VoiceName): Promise<string[]> {
  const { phones } = await synthesise(word, voice);
  let stressed = false;
  return phones
    .filter(({ phone }) => phone !== "pau")
    .map(({ phone }) => {
      if (phone === "ax") return "AH0";
      const name = phone.toUpperCase();
      if (!/^[aeiou]/.test(phone)) return name;
      const digit = stressed ? "0" : "1";
      stressed = true;
      return name + digit;
    });
}

/** Each piece of the text from its first phone to its last. */
function tokensInTime(
  { tokens }: Spelled,
  wordOf: readonly number[],
  phones: readonly Phone[],
  known: readonly unknown[],
): SpokenLine["words"] {
  let word = 0;
  return tokens.flatMap((t) => {
    const [first, last] = [word, word + t.said.length - 1];
    word = last + 1;
    const own = phones.filter((_, i) => wordOf[i]! >= first && wordOf[i]! <= last);
    if (own.length === 0) return [];
    const guess = known.slice(first, last + 1).some((k) => !k);
    const span = { text: t.text, from: own[0]!.from, to: own[own.length - 1]!.to };
    return [{ ...span, said: t.said.join(" "), ...(guess ? { guess } : {}) }];
  });
}
