import type { Segment } from "./phones";

/**
 * How strongly a segment asks at a time: dominance falls off exponentially on either side (Cohen & Massaro 1993,
 * "Modeling coarticulation in synthetic visual speech", eq. 1 with c = 1: D = alpha e^(-theta |tau|)). Alpha and theta
 * are our own: the paper gives none for visemes. Tau is told from the core of a segment, its middle share, so that a
 * long vowel is held.
 */
const ALPHA = { vowel: 1.3, consonant: 0.8, rest: 0.6 } as const;
/** A second. */
const THETA = { vowel: 25, consonant: 28, rest: 20 } as const;
const CORE = 0.4;

const kindOf = (s: Segment): keyof typeof ALPHA => (s.viseme === 0 ? "rest" : s.vowel ? "vowel" : "consonant");

export function dominance(s: Segment, seconds: number): number {
  const kind = kindOf(s);
  const middle = (s.from + s.to) / 2;
  const tau = Math.max(0, Math.abs(seconds - middle) - (CORE / 2) * (s.to - s.from));
  return ALPHA[kind] * Math.exp(-THETA[kind] * tau);
}

/** Beyond this a segment asks for nothing, seconds. */
const REACH = 0.4;

/** Weights of visemes at a time: each segment's target by its share of all dominance. Their sum is 1 at most. */
export function visemesAt(segments: readonly Segment[], seconds: number): Map<number, number> {
  const out = new Map<number, number>();
  let all = 0;
  for (const s of segments) {
    if (seconds < s.from - REACH || seconds > s.to + REACH) continue;
    const d = dominance(s, seconds);
    all += d;
    if (s.viseme > 0) out.set(s.viseme, (out.get(s.viseme) ?? 0) + d * s.amount);
  }
  for (const [v, w] of out) out.set(v, all > 0 ? w / all : 0);
  return out;
}
