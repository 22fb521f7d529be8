import { mixed, onTop } from "./mixWeights";
import type { MouthReader, Weights } from "./mouth";
import { isAtEdge, isAtTeeth, isSealed, isVowel, visemeOf, type Phone } from "./phones";
import { smoothStep } from "../math/smoothStep";

/** Limits of a spoken mouth: metres and seconds (our own choice; 40 ms is common practice, no source). */
export const SEALED = 0.0005;
export const AT_TEETH = 0.0015;
export const AT_EDGE = 0.002;
export const CLOSED_FOR = 0.04;
/** A vowel opens at least this share of what its viseme opens alone; one shorter than this is let go, seconds. */
export const OPENS = 0.7;
export const SHORT_VOWEL = 0.06;
/** The lips are on their way for so long at most, seconds. */
const LEAD = 0.08;
/** Frames a second of the curves: a closure holds several. */
export const RATE = 100;

/** A stretch in which the mouth is led to a face: how far, and how much of what stands under it stays. */
export interface Demand {
  readonly from: number;
  readonly to: number;
  /** Beginning and end of the way there and back. */
  readonly leads: readonly [number, number];
  readonly face: Weights;
  readonly blend: number;
  readonly keep: number;
  /** Whether it asks the mouth to be open. */
  readonly opens: boolean;
}

/** What a line is spoken on. */
export interface Mouth {
  readonly reader: MouthReader;
  readonly faceOf: (viseme: number) => Weights;
  readonly plainAt: (t: number) => Weights;
  /** What stands under the speech. */
  readonly underAt: (t: number) => Weights;
}

/**
 * Least t of 0..1 at which every test holds, to a hundredth; null where one does not at 1. Each holds from its own
 * least t on, so that the next is only asked to be met from there.
 */
function leastThat(tests: readonly ((t: number) => boolean)[]): number | null {
  let least = 0;
  for (const test of tests) {
    if (test(least)) continue;
    if (least === 1 || !test(1)) return null;
    let low = least;
    least = 1;
    while (least - low > 0.01) {
      const middle = (low + least) / 2;
      if (test(middle)) least = middle;
      else low = middle;
    }
  }
  return least;
}

const middleOf = (p: Phone): number => (p.from + p.to) / 2;
/** What a sound asks of the mouth; null where it asks for nothing that is measured. */
type Need = "sealed" | "teeth" | "edge" | "open";
export function needOf(p: Phone): Need | null {
  if (isSealed(p.phone)) return "sealed";
  if (isAtTeeth(p.phone)) return "teeth";
  if (isAtEdge(p.phone)) return "edge";
  return isVowel(p.phone) && p.to - p.from >= SHORT_VOWEL ? "open" : null;
}

/**
 * What the sounds of a line ask of the mouth, each solved on the mesh for how far it must be led to its viseme, and
 * where that is not enough, how far the expression under it gives way.
 */
export function demandsOf(phones: readonly Phone[], { reader, faceOf, plainAt, underAt }: Mouth): Demand[] {
  const gives = (shape: string): boolean => reader.lipShapes.has(shape);
  return phones.flatMap((p, i): Demand[] => {
    const need = needOf(p);
    // an unstressed vowel is asked for nothing: it may be swallowed
    if (!need || (need === "open" && p.stress === 0)) return [];
    const half = holdOf(need, p);
    // lips that shut for longer than their sound lasts have done so by its end: that is where it bursts
    const [before, after] = [phones[i - 1], phones[i + 1]];
    const late = need === "sealed" ? Math.max(0, middleOf(p) + half - p.to) : 0;
    const soonest = before && needOf(before) ? middleOf(before) + 2 * TOUCHES : -Infinity;
    const from = Math.max(middleOf(p) - half - late, Math.min(soonest, middleOf(p) - half));
    const to = from + 2 * half;
    // the way there begins no sooner than the middle of the sound before, and ends no later than that of the next
    const leads = [
      Math.max(from - LEAD, before ? Math.min(middleOf(before), from - 0.01) : from - LEAD),
      Math.min(to + LEAD, after ? Math.max(middleOf(after), to + 0.01) : to + LEAD),
    ] as const;
    const face = faceOf(visemeOf(p.phone));
    const times = half === 0 ? [middleOf(p)] : [from, to, (from + to) / 2];
    const asked = times.map((t) => ({ plain: plainAt(t), under: underAt(t) }));
    const alone = need === "open" ? reader.gap(face) : 0;
    const fits = asked.map(({ plain, under }) => (blend: number, keep: number): boolean => {
      const shown = onTop(mixed(plain, face, blend), under, keep, gives);
      if (need === "sealed") return reader.gap(shown) < 0.8 * SEALED;
      if (need === "teeth") return (reader.toTeeth(shown) ?? 0) < 0.9 * AT_TEETH;
      if (need === "edge") return (reader.teeth(shown) ?? 0) < 0.95 * AT_EDGE;
      return reader.gap(shown) >= 1.02 * OPENS * alone;
    });
    const blend = leastThat(fits.map((fit) => (t) => fit(t, 1)));
    if (need === "open" || blend !== null)
      return blend ? [{ from, to, leads, face, blend, keep: 1, opens: need === "open" }] : [];
    const given = leastThat(fits.map((fit) => (g) => fit(1, 1 - g)));
    return [{ from, to, leads, face, blend: 1, keep: 1 - (given ?? 1), opens: false }];
  });
}

/** A lip that touches the teeth, and teeth that come together, do so for twice this at least, seconds. */
const TOUCHES = 0.01;

/** Half of the stretch in which a sound holds what it asks for, seconds. */
function holdOf(need: Need, p: Phone): number {
  if (need === "open") return 0;
  const share = Math.min(0.06, 0.35 * (p.to - p.from));
  return need === "sealed" ? Math.max(CLOSED_FOR / 2 + 0.5 / RATE, share) : Math.min(TOUCHES, share);
}

const partOf = ({ from, to, leads }: Demand, t: number): number => {
  if (t >= from && t <= to) return 1;
  if (t <= leads[0] || t >= leads[1]) return 0;
  return smoothStep(t < from ? (t - leads[0]) / (from - leads[0]) : (leads[1] - t) / (leads[1] - to));
};

/** So much more does a demand that shuts or touches weigh than one that opens, where both are at work. */
const HARDER = 20;
/** A demand that is wholly at work has these odds against all else. */
const SURE = 1e4;

/**
 * Weights of speech once demands are met: each counts by its odds, so that one that is wholly at work has all the say,
 * and none takes over from another in a jump; and how much of what stands under them stays.
 */
export function demandedAt(
  plain: Weights,
  demands: readonly Demand[],
  t: number,
): { readonly weights: Weights; readonly keep: number } {
  const now = demands.flatMap((d) => {
    const part = partOf(d, t);
    if (part <= 0) return [];
    const odds = (part / Math.max(1 / SURE, 1 - part)) * (d.opens ? 1 : 1 + HARDER * part ** 80);
    return [{ d, part, odds }];
  });
  if (now.length === 0) return { weights: plain, keep: 1 };
  const all = 1 + now.reduce((sum, x) => sum + x.odds, 0);
  let left = 1;
  let keep = 1;
  const weights: Record<string, number> = {};
  for (const { d, part, odds } of now) {
    const share = (d.blend * odds) / all;
    left -= share;
    keep = Math.min(keep, 1 - part * (1 - d.keep));
    for (const name in d.face) weights[name] = (weights[name] ?? 0) + share * d.face[name]!;
  }
  for (const name in plain) weights[name] = (weights[name] ?? 0) + left * plain[name]!;
  return { weights, keep };
}
