/**
 * Action units of the face and what they do (Ekman & Friesen 1978, Facial Action Coding System), in numeric order.
 * One-sided where the two halves can move apart.
 */
export const ACTION_UNITS: readonly { readonly unit: number; readonly name: string; readonly sided: boolean }[] = [
  { unit: 1, name: "inner brow raiser", sided: true },
  { unit: 2, name: "outer brow raiser", sided: true },
  { unit: 4, name: "brow lowerer", sided: true },
  { unit: 5, name: "upper lid raiser", sided: true },
  { unit: 6, name: "cheek raiser", sided: true },
  { unit: 7, name: "lid tightener", sided: true },
  { unit: 9, name: "nose wrinkler", sided: true },
  { unit: 10, name: "upper lip raiser", sided: true },
  { unit: 11, name: "nasolabial deepener", sided: true },
  { unit: 12, name: "lip corner puller", sided: true },
  { unit: 13, name: "sharp lip puller", sided: true },
  { unit: 14, name: "dimpler", sided: true },
  { unit: 15, name: "lip corner depressor", sided: true },
  { unit: 16, name: "lower lip depressor", sided: true },
  { unit: 17, name: "chin raiser", sided: false },
  { unit: 18, name: "lip pucker", sided: false },
  { unit: 20, name: "lip stretcher", sided: true },
  { unit: 22, name: "lip funneler", sided: false },
  { unit: 23, name: "lip tightener", sided: false },
  { unit: 24, name: "lip pressor", sided: false },
  { unit: 25, name: "lips part", sided: false },
  { unit: 26, name: "jaw drop", sided: false },
  { unit: 27, name: "mouth stretch", sided: false },
  { unit: 28, name: "lip suck", sided: false },
  { unit: 43, name: "eyes closed", sided: true },
];

/** Visemes of MPEG-4 by number (ISO/IEC 14496-2, `viseme_select` 1 to 14): the sounds they stand for. */
export const VISEME_SOUNDS: readonly string[] = [
  "p b m",
  "f v",
  "th dh",
  "t d",
  "k g",
  "ch j sh",
  "s z",
  "n l",
  "r",
  "aa",
  "e",
  "ih",
  "oh",
  "ou",
];
