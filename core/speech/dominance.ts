import { ARTICULATORS, shareOf, type Articulator } from "./articulators";
import type { Segment } from "./phones";

/**
 * How strongly a segment asks for an articulator at a time: dominance falls off exponentially on either side (Cohen &
 * Massaro 1993, "Modeling coarticulation in synthetic visual speech", eq. 1 with c = 1: D = alpha e^(-theta |tau|)).
 * Alpha and theta are our own: the paper gives none for visemes. Tau is told from the core of a segment, its middle
 * share, so that a long vowel is held.
 */
const ALPHA = { vowel: 1.3, consonant: 0.8, rest: 0.6 } as const;
/** A second. */
const THETA = { vowel: 25, consonant: 28, rest: 20 } as const;
const CORE = 0.4;
/** What a segment asks of an articulator that it does not need, of what it would ask if it did. */
const UNNEEDED = 0.35;

const kindOf = (s: Segment): keyof typeof ALPHA => (s.viseme === 0 ? "rest" : s.vowel ? "vowel" : "consonant");

export function dominance(s: Segment, seconds: number, articulator?: number): number {
  const kind = kindOf(s);
  const middle = (s.from + s.to) / 2;
  const tau = Math.max(0, Math.abs(seconds - middle) - (CORE / 2) * (s.to - s.from));
  const need = articulator === undefined ? 1 : Math.min(1, UNNEEDED + 2 * shareOf(s.viseme, articulator));
  return need * ALPHA[kind] * Math.exp(-THETA[kind] * tau);
}

/** Beyond this a segment asks for nothing, seconds. */
const REACH = 0.4;

/**
 * Weights of visemes at a time: for each articulator every segment's target by its share of all dominance, and of a
 * viseme what each articulator makes of it. Their sum is 1 at most before the amounts.
 * @param amounts of what each articulator does; 1 where it is left out.
 */
export function visemesAt(
  segments: readonly Segment[],
  seconds: number,
  amounts: Readonly<Partial<Record<Articulator, number>>> = {},
): Map<number, number> {
  const near = segments.filter((s) => seconds >= s.from - REACH && seconds <= s.to + REACH);
  const plain = new Map<number, number>();
  const scaled = new Map<number, number>();
  ARTICULATORS.forEach((name, a) => {
    const asked = near.map((s) => dominance(s, seconds, a));
    const all = asked.reduce((x, y) => x + y, 0);
    if (all <= 0) return;
    near.forEach((s, i) => {
      if (s.viseme === 0) return;
      const w = (shareOf(s.viseme, a) * asked[i]! * s.amount) / all;
      plain.set(s.viseme, (plain.get(s.viseme) ?? 0) + w);
      scaled.set(s.viseme, (scaled.get(s.viseme) ?? 0) + w * (amounts[name] ?? 1));
    });
  });
  const sum = [...plain.values()].reduce((x, y) => x + y, 0);
  const least = sum > 1 ? 1 / sum : 1;
  for (const [v, w] of scaled) scaled.set(v, w * least);
  return scaled;
}
