import { SILENCE, isVowel, type Phone } from "./phones";

/** A word and the phones that it should have: ARPAbet, stress digits behind vowels. */
export interface ExpectedWord {
  readonly phones: readonly string[];
}

const bare = (phone: string): string => phone.replace(/[012]$/, "");
const stressOf = (phone: string): 0 | 1 | 2 => (/[012]$/.exec(phone) ? (Number(phone.slice(-1)) as 0 | 1 | 2) : 1);
const cost = (a: string, b: string): number => {
  if (a === b) return 0;
  return isVowel(a) === isVowel(b) ? 0.6 : 1.2;
};
/** A phone that one side has and the other has not. */
const ALONE = 1;

/**
 * Which word each phone belongs to, by least edits between what was spoken and what words should sound like (Wagner &
 * Fischer 1974); vowels take the stress of the phone that they stand against.
 * @param spoken phones in order, silence among them. @returns word of each phone, -1 for silence; and phones with
 * stress.
 */
export function wordsOfPhones(
  spoken: readonly Phone[],
  words: readonly ExpectedWord[],
): { readonly wordOf: readonly number[]; readonly phones: readonly Phone[] } {
  const heard = spoken.flatMap((p, i) => (p.phone === SILENCE ? [] : [i]));
  const wanted = words.flatMap((w, word) => w.phones.map((phone) => ({ phone: bare(phone), word, given: phone })));
  const [n, m] = [heard.length, wanted.length];
  const d = new Float64Array((n + 1) * (m + 1));
  const at = (i: number, j: number): number => i * (m + 1) + j;
  for (let i = 1; i <= n; i++) d[at(i, 0)] = i * ALONE;
  for (let j = 1; j <= m; j++) d[at(0, j)] = j * ALONE;
  for (let i = 1; i <= n; i++)
    for (let j = 1; j <= m; j++)
      d[at(i, j)] = Math.min(
        d[at(i - 1, j - 1)]! + cost(spoken[heard[i - 1]!]!.phone, wanted[j - 1]!.phone),
        d[at(i - 1, j)]! + ALONE,
        d[at(i, j - 1)]! + ALONE,
      );
  const match = new Int32Array(n).fill(-1);
  for (let [i, j] = [n, m]; i > 0 && j > 0;) {
    const here = d[at(i, j)]!;
    if (here === d[at(i - 1, j - 1)]! + cost(spoken[heard[i - 1]!]!.phone, wanted[j - 1]!.phone)) {
      match[--i] = --j;
    } else if (here === d[at(i - 1, j)]! + ALONE) i--;
    else j--;
  }
  const wordOf = new Array<number>(spoken.length).fill(-1);
  const phones = spoken.slice();
  let last = 0;
  heard.forEach((p, k) => {
    const found = match[k]!;
    if (found >= 0) last = wanted[found]!.word;
    wordOf[p] = last;
    const phone = spoken[p]!;
    if (isVowel(phone.phone))
      phones[p] = { ...phone, stress: found >= 0 ? stressOf(wanted[found]!.given) : phone.stress };
  });
  return { wordOf, phones };
}
