/** A phone of a line: ARPAbet in capitals without stress, or `sil`; seconds. */
export interface Phone {
  readonly phone: string;
  readonly from: number;
  readonly to: number;
  /** 0 none, 1 first, 2 second; of vowels. */
  readonly stress: 0 | 1 | 2;
  /** How much of its viseme it does, by hand; 1 where it is left out. */
  readonly amount?: number;
  /** How much louder it is than the line's vowels are in the mean, dB; absent without sound. */
  readonly loud?: number;
}
export interface SpokenWord {
  readonly text: string;
  readonly from: number;
  readonly to: number;
  /** The plain word that was said for it, where it was looked up or guessed. */
  readonly said?: string;
  /** Whether its phones were guessed from its letters. */
  readonly guess?: boolean;
}
/** What is said, and when. */
export interface SpokenLine {
  readonly seconds: number;
  readonly words: readonly SpokenWord[];
  readonly phones: readonly Phone[];
}

export const SILENCE = "sil";

/**
 * Visemes of MPEG-4 by phone (ISO/IEC 14496-2, `viseme_select` 1 to 14; the table's example words, from memory). A
 * diphthong goes from its first to its second; `null` takes the mouth of what follows. NG, ER, W, Y, AE and AH, which
 * opens half as far as AA, stand with the nearest of the table: our own choice.
 */
const VISEMES: Readonly<Record<string, readonly number[] | null>> = {
  P: [1],
  B: [1],
  M: [1],
  F: [2],
  V: [2],
  TH: [3],
  DH: [3],
  T: [4],
  D: [4],
  DX: [4],
  K: [5],
  G: [5],
  NG: [5],
  CH: [6],
  JH: [6],
  SH: [6],
  ZH: [6],
  S: [7],
  Z: [7],
  N: [8],
  L: [8],
  R: [9],
  ER: [9],
  AA: [10],
  AH: [11],
  AX: [11],
  EH: [11],
  AE: [11],
  IH: [12],
  IY: [12],
  Y: [12],
  AO: [13],
  UH: [14],
  UW: [14],
  W: [14],
  AY: [10, 12],
  AW: [10, 14],
  OY: [13, 12],
  EY: [11, 12],
  OW: [13, 14],
  HH: null,
};

/** Every phone, silence first. */
export const PHONES: readonly string[] = [SILENCE, ...Object.keys(VISEMES).sort()];
export const isPhone = (phone: string): boolean => phone === SILENCE || phone in VISEMES;
const VOWELS = new Set("AA AE AH AX AO AW AY EH ER EY IH IY OW OY UH UW".split(" "));
export const isVowel = (phone: string): boolean => VOWELS.has(phone);
/** Lips shut. */
export const isSealed = (phone: string): boolean => phone === "P" || phone === "B" || phone === "M";
/** Lower lip at the upper teeth. */
export const isAtTeeth = (phone: string): boolean => phone === "F" || phone === "V";

/** Teeth near each other. */
export const isAtEdge = (phone: string): boolean => phone === "S" || phone === "Z" || phone === "SH" || phone === "ZH";

/** How much of its viseme a vowel opens: one that is not stressed opens less. Our own choice. */
const AMOUNT = { 0: 0.6, 1: 1, 2: 0.85 } as const;
/** So much louder opens a vowel a whole amount wider, dB; and the bounds of it. Our own choice. */
const LOUDER = 12;
const LOUD_BOUNDS = [0.7, 1.4] as const;

/** How stress and loudness change what vowels do. */
export interface Emphasis {
  /** 0 opens unstressed vowels as the stressed, 1 by our table. */
  readonly stress: number;
  /** 0 pays no heed to the sound. */
  readonly loudness: number;
}

function amountOf({ phone, stress, loud, amount = 1 }: Phone, emphasis: Emphasis): number {
  if (!isVowel(phone)) return amount;
  const byStress = 1 - emphasis.stress * (1 - AMOUNT[stress]);
  const byLoudness = 1 + (emphasis.loudness * (loud ?? 0)) / LOUDER;
  return amount * byStress * Math.min(LOUD_BOUNDS[1], Math.max(LOUD_BOUNDS[0], byLoudness));
}

/** A stretch of a line in which the mouth is asked for one viseme; 0 is the mouth at rest. */
export interface Segment {
  readonly viseme: number;
  readonly from: number;
  readonly to: number;
  readonly amount: number;
  readonly vowel: boolean;
}

/** What the mouth is asked for, phone by phone; a diphthong asks for two, the first a little longer. */
export function segmentsOf(phones: readonly Phone[], emphasis: Emphasis = { stress: 1, loudness: 0 }): Segment[] {
  return phones.flatMap((p, i): Segment[] => {
    const vowel = isVowel(p.phone);
    const amount = amountOf(p, emphasis);
    if (p.phone === SILENCE) return [{ viseme: 0, from: p.from, to: p.to, amount: 1, vowel: false }];
    const visemes = VISEMES[p.phone] ?? VISEMES[phones[i + 1]?.phone ?? ""] ?? [];
    if (visemes.length < 2) return visemes.map((viseme) => ({ viseme, from: p.from, to: p.to, amount, vowel }));
    if (!vowel) return [{ viseme: visemes[0]!, from: p.from, to: p.to, amount, vowel }];
    const turn = p.from + 0.55 * (p.to - p.from);
    return [
      { viseme: visemes[0]!, from: p.from, to: turn, amount, vowel },
      { viseme: visemes[1]!, from: turn, to: p.to, amount: 0.8 * amount, vowel },
    ];
  });
}
export const visemeOf = (phone: string): number => VISEMES[phone]?.[0] ?? 0;
