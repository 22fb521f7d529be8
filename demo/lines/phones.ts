/** ARPAbet phones by the manner in which they are made; the lengths are our own rule, in seconds at an even pace. */
const LENGTHS = {
  vowel: 0.11,
  diphthong: 0.15,
  plosive: 0.07,
  fricative: 0.1,
  nasal: 0.075,
  liquid: 0.07,
  glide: 0.06,
  affricate: 0.11,
} as const;
const MANNERS: Readonly<Record<keyof typeof LENGTHS, readonly string[]>> = {
  vowel: ["AA", "AE", "AH", "AO", "EH", "ER", "IH", "IY", "UH", "UW"],
  diphthong: ["AW", "AY", "EY", "OW", "OY"],
  plosive: ["B", "D", "G", "K", "P", "T"],
  affricate: ["CH", "JH"],
  fricative: ["DH", "F", "HH", "S", "SH", "TH", "V", "Z", "ZH"],
  nasal: ["M", "N", "NG"],
  liquid: ["L", "R"],
  glide: ["W", "Y"],
};

/** All 39 phones of the set, without stress marks. */
export const PHONES: readonly string[] = Object.values(MANNERS).flat().sort();

/**
 * Length of a phone; a stressed vowel (mark 1) is longer, an unstressed one (0) shorter. Throws for what is not a
 * phone.
 */
export function phoneSeconds(phone: string): number {
  const bare = phone.replace(/[012]$/, "");
  const manner = (Object.keys(MANNERS) as (keyof typeof LENGTHS)[]).find((m) => MANNERS[m].includes(bare));
  if (!manner) throw new Error(`phoneSeconds: ${phone} is no ARPAbet phone`);
  const stress = phone.endsWith("1") ? 1.2 : phone.endsWith("0") ? 0.75 : 1;
  return LENGTHS[manner] * stress;
}
