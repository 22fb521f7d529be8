import numberToWords from "number-to-words";

/** One piece of a text between spaces, and the words that are said for it. */
export interface SpelledToken {
  readonly text: string;
  /** Words of small letters and apostrophes. */
  readonly said: readonly string[];
  /** What is written after it: a pause where it is one of , ; : . ? ! */
  readonly pause: string;
}
export interface Spelled {
  readonly tokens: readonly SpelledToken[];
  /** Pieces that hold nothing that could be said in English. */
  readonly leftOut: readonly string[];
}

/** Abbreviations that are read as words, without their stop (common practice, no source). */
const ABBREVIATIONS: Readonly<Record<string, string>> = {
  dr: "doctor",
  mr: "mister",
  mrs: "missus",
  ms: "miz",
  prof: "professor",
  st: "saint",
  mt: "mount",
  no: "number",
  vs: "versus",
  etc: "et cetera",
  approx: "approximately",
  dept: "department",
  est: "established",
  jan: "january",
  feb: "february",
  aug: "august",
  sept: "september",
  oct: "october",
  nov: "november",
  dec: "december",
};
/** These stand for something else as plain words: they are read so only with a stop, or with a capital. */
const ALSO_WORDS = new Set(["no", "st", "mt", "est", "ms", "dec", "nov", "oct", "jan"]);
const UNITS: Readonly<Record<string, readonly [one: string, many: string]>> = {
  km: ["kilometer", "kilometers"],
  m: ["meter", "meters"],
  cm: ["centimeter", "centimeters"],
  mm: ["millimeter", "millimeters"],
  kg: ["kilogram", "kilograms"],
  g: ["gram", "grams"],
  s: ["second", "seconds"],
  ms: ["millisecond", "milliseconds"],
  h: ["hour", "hours"],
  min: ["minute", "minutes"],
  "km/h": ["kilometer per hour", "kilometers per hour"],
  "m/s": ["meter per second", "meters per second"],
  "%": ["percent", "percent"],
  "°": ["degree", "degrees"],
};
const MONEY: Readonly<Record<string, readonly [string, string, string]>> = {
  $: ["dollar", "dollars", "cents"],
  "£": ["pound", "pounds", "pence"],
  "€": ["euro", "euros", "cents"],
};
const SIGNS: Readonly<Record<string, string>> = {
  "&": "and",
  "+": "plus",
  "=": "equals",
  "@": "at",
  "#": "number",
  "/": "slash",
};
const DIGITS = "zero one two three four five six seven eight nine".split(" ");

const words = (text: string): string[] =>
  text
    .toLowerCase()
    .replace(/[^a-z']+/g, " ")
    .trim()
    .split(" ")
    .filter(Boolean);
const cardinal = (n: number): string[] => words(numberToWords.toWords(n));
const digits = (text: string): string[] => [...text].map((d) => DIGITS[Number(d)]!);

/** A whole number as it is read: as a year where it looks like one, digit by digit where it begins with zeros. */
function whole(text: string): string[] {
  const plain = text.replaceAll(",", "");
  const n = Number(plain);
  if ((plain.length > 1 && plain.startsWith("0")) || plain.length > 12) return digits(plain);
  const year = plain.length === 4 && !text.includes(",") && n >= 1100 && n < 2100 && (n < 2000 || n >= 2010);
  if (!year) return cardinal(n);
  const [century, rest] = [Math.floor(n / 100), n % 100];
  if (rest === 0) return n % 1000 === 0 ? cardinal(n) : [...cardinal(century), "hundred"];
  return [...cardinal(century), ...(rest < 10 ? ["oh"] : []), ...cardinal(rest)];
}
const number = (text: string): string[] => {
  const [before = "", after] = text.split(".");
  return after ? [...whole(before || "0"), "point", ...digits(after)] : whole(before);
};

function money(sign: string, amount: string): string[] {
  const [one, many, small] = MONEY[sign]!;
  const [before = "0", after = ""] = amount.split(".");
  const n = Number(before.replaceAll(",", ""));
  const parts = after.padEnd(2, "0").slice(0, 2);
  const cents = Number(parts) > 0 ? [...cardinal(Number(parts)), small] : [];
  if (n === 0 && cents.length) return cents;
  return [...cardinal(n), n === 1 ? one : many, ...cents];
}

function time(hours: string, minutes: string): string[] {
  const [h, m] = [Number(hours), Number(minutes)];
  if (m === 0) return [...cardinal(h), ...(h <= 12 && h > 0 ? ["o'clock"] : ["hundred"])];
  return [...cardinal(h), ...(m < 10 ? ["oh"] : []), ...cardinal(m)];
}

/** A piece without the marks round it. @param known whether a word of small letters can be looked up. */
function saidOf(core: string, stop: boolean, known: (word: string) => boolean): string[] {
  const small = core.toLowerCase();
  const abbreviation = ABBREVIATIONS[small];
  const meant = !ALSO_WORDS.has(small) || (stop && /^[A-Z]/.test(core));
  if (abbreviation && (stop || !known(small)) && meant) return words(abbreviation);
  const clock = /^(\d{1,2}):([0-5]\d)$/.exec(core);
  if (clock) return time(clock[1]!, clock[2]!);
  const paid = /^([$£€])(\d[\d,]*(?:\.\d+)?)$/.exec(core);
  if (paid) return money(paid[1]!, paid[2]!);
  const ordinal = /^(\d[\d,]*)(st|nd|rd|th)$/i.exec(core);
  if (ordinal) return words(numberToWords.toWordsOrdinal(Number(ordinal[1]!.replaceAll(",", ""))));
  const measured = /^([-−]?)(\d[\d,]*(?:\.\d+)?|\.\d+)([a-z%°/]*)$/i.exec(core);
  if (measured) {
    const [, minus, value = "", unit = ""] = measured;
    const names = UNITS[unit] ?? UNITS[unit.toLowerCase()];
    const tail = names ? words(names[value === "1" ? 0 : 1]) : words(unit);
    return [...(minus ? ["minus"] : []), ...number(value), ...tail];
  }
  // capitals that are no word are spelled
  if (/^[A-Z]{2,6}$/.test(core) && (!known(small) || !/[AEIOUY]/.test(core))) return [...small];
  // runs of letters, of digits, and signs between them, one after another
  const runs = core.match(/[A-Za-z']+|\d[\d,]*(?:\.\d+)?|[&+=@#/]/g) ?? [];
  if (runs.length === 1 && /^[A-Za-z']+$/.test(runs[0]!)) return words(small);
  return runs.flatMap((r) => {
    if (SIGNS[r]) return [SIGNS[r]!];
    return /\d/.test(r) ? number(r) : saidOf(r, false, known);
  });
}

/** Longest text, signs and words. */
const MOST_WORDS = 400;

/**
 * A text as the words that are said: numbers, years, times, money, units and common abbreviations read out, capitals
 * that are no word spelled, accents let go. English.
 * @param known whether a word of small letters can be looked up.
 */
export function spellOut(text: string, known: (word: string) => boolean = () => false): Spelled {
  const plain = text
    .normalize("NFKD")
    .replace(/\p{M}+/gu, "")
    .replace(/[’‘`]/g, "'")
    .replace(/[“”„«»]/g, '"');
  const leftOut: string[] = [];
  const tokens = plain
    .replace(/[—–]|(?<=\p{L})-(?=\p{L})/gu, " ")
    .split(/\s+/)
    .filter(Boolean)
    .flatMap((piece, i, all): SpelledToken[] => {
      const [, core = "", after = ""] = /^["'([{<*_~]*(.*?)(["')\]}>*_.,;:?!…]*)$/u.exec(piece) ?? [];
      const unit = i > 0 && /^[\d.,]*\d$/.test(all[i - 1]!) ? UNITS[core] : undefined;
      const stop = after.startsWith(".");
      const said = unit ? words(unit[all[i - 1] === "1" ? 0 : 1]) : saidOf(core.replace(/'$/, ""), stop, known);
      const shortened = stop && core.toLowerCase() in ABBREVIATIONS && i < all.length - 1;
      const pause = shortened ? "" : (/[.,;:?!]/.exec(after)?.[0] ?? (after.includes("…") ? "." : ""));
      if (said.length) return [{ text: piece.replace(/^["([{<]+|[")\]}>.,;:?!…]+$/g, ""), said, pause }];
      // a mark that stands alone is no loss
      if (/[\p{L}\p{N}\p{S}]/u.test(piece)) leftOut.push(piece);
      return [];
    });
  return { tokens, leftOut };
}

/** How many words are said. */
export const countSaid = ({ tokens }: Spelled): number => tokens.reduce((n, t) => n + t.said.length, 0);
export { MOST_WORDS };
