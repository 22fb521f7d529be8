import { dictionary } from "cmu-pronouncing-dictionary";

/** Phones of a word in the CMU Pronouncing Dictionary, its first way of saying it; undefined where it is not listed. */
export const lookedUp = (word: string): readonly string[] | undefined =>
  Object.hasOwn(dictionary, word) ? dictionary[word]!.split(" ") : undefined;

/** All ways of saying it that the dictionary has. */
export function waysOf(word: string): string[] {
  const out: string[] = [];
  for (let i = 1; ; i++) {
    const key = i === 1 ? word : `${word}(${i})`;
    if (!Object.hasOwn(dictionary, key)) return out;
    out.push(dictionary[key]!);
  }
}
