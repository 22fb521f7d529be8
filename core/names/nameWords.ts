/** Splits joint names into lower-case words at separators, capitals and digits, and finds which side they speak of. */
import { knownWordsIn } from "./boneWords";
import type { Side } from "./humanoidBones";

const LEFT = [
  "l",
  "left",
  "lf",
  "lt",
  "links",
  "li",
  "sin",
  "sinister",
  "sinistra",
  "sinistrum",
  "gauche",
  "izquierda",
  "izquierdo",
  "sx",
];
const RIGHT = [
  "r",
  "right",
  "rt",
  "rg",
  "rechts",
  "re",
  "dex",
  "dexter",
  "dextra",
  "dextrum",
  "droite",
  "derecha",
  "derecho",
  "dx",
];
const SIDE_WORDS: Readonly<Record<string, Side>> = Object.fromEntries([
  ...LEFT.map((w) => [w, "left"] as const),
  ...RIGHT.map((w) => [w, "right"] as const),
]);

/** Letters with marks as plain letters: umlauts by their second letter, all others without the mark. */
const plainLetters = (name: string): string =>
  /^[\x20-\x7e]*$/.test(name)
    ? name
    : name
        .replace(/ä/g, "ae")
        .replace(/ö/g, "oe")
        .replace(/ü/g, "ue")
        .replace(/Ä/g, "Ae")
        .replace(/Ö/g, "Oe")
        .replace(/Ü/g, "Ue")
        .replace(/ß/g, "ss")
        .normalize("NFD")
        .replace(/\p{M}/gu, "");

export function splitWords(name: string): string[] {
  return plainLetters(name)
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z]+)([A-Z][a-z])/g, "$1 $2")
    .replace(/([A-Za-z])(\d)/g, "$1 $2")
    .replace(/(\d)([A-Za-z])/g, "$1 $2")
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean)
    .map((w) => w.toLowerCase());
}

/** Words that open every name (a prefix such as a character's or a package's) and so carry no meaning. */
export function sharedPrefix(names: readonly string[]): number {
  const lists = names.map(splitWords).filter((w) => w.length > 0);
  if (lists.length < 3) return 0;
  let n = 0;
  for (;;) {
    const word = lists[0]![n];
    if (!word || SIDE_WORDS[word] || lists.filter((l) => l[n] === word && l.length > n + 1).length < 0.9 * lists.length)
      return n;
    n++;
  }
}

export interface NameReading {
  readonly words: readonly string[];
  readonly side: Side | null;
}

/**
 * Reads a name past `skip` shared words; side words and glued sides ("larm", "rleg") are taken out of the words, and
 * words written together are taken apart.
 */
export function readName(name: string, skip = 0): NameReading {
  const words = splitWords(name).slice(skip).flatMap(knownWordsIn);
  let side: Side | null = null;
  const rest: string[] = [];
  for (const word of words) {
    const s = SIDE_WORDS[word];
    if (s && !side) side = s;
    else if (!side && /^(left|right)[a-z]{2,}/.test(word)) {
      side = word.startsWith("left") ? "left" : "right";
      rest.push(word.replace(/^(left|right)/, ""));
    } else rest.push(word);
  }
  return { words: rest, side };
}

const PAIRS = [
  ["left", "right"],
  ["lt", "rt"],
  ["l", "r"],
  ["links", "rechts"],
  ["li", "re"],
  ["sin", "dex"],
  ["sinister", "dexter"],
  ["sinistra", "dextra"],
  ["sinistrum", "dextrum"],
  ["gauche", "droite"],
  ["izquierda", "derecha"],
  ["izquierdo", "derecho"],
  ["sx", "dx"],
] as const;
const OTHER: Readonly<Record<string, string>> = {
  ...Object.fromEntries(
    PAIRS.flatMap(([a, b]) => [
      [a, b],
      [b, a],
    ]),
  ),
  lf: "rt",
  rg: "lf",
};
/**
 * A name with its side word exchanged in the same case: a whole word, a letter of its own, or the start or end of a
 * compound. Null for a name of no side.
 */
export function swapSide(name: string): string | null {
  const patterns = [
    /left|right|links|rechts|sinister|dexter|sinistra|dextra/gi,
    /(?<![A-Za-z])(?:lf|lt|rt|rg|l|r|li|re|sin|dex|sinistrum|dextrum|gauche|droite|izquierd[ao]|derech[ao]|sx|dx)(?![A-Za-z])/gi,
    /(?<=[a-z0-9])(?:L|R)(?![A-Za-z])/g,
    /^[lr](?=[A-Z])/g,
  ];
  for (const pattern of patterns) {
    const swapped = name.replace(pattern, (word) => {
      const other = OTHER[word.toLowerCase()]!;
      return word === word.toUpperCase()
        ? other.toUpperCase()
        : word[0] === word[0]!.toUpperCase()
          ? other[0]!.toUpperCase() + other.slice(1)
          : other;
    });
    if (swapped !== name) return swapped;
  }
  return null;
}
