import { randomFrom } from "../../math/random";
import { FACE_MEASURES, type FaceMeasure, type FaceReading } from "../../measure/faceGauge";
import type { Tick } from "../../measure/sweepMotion";
import type { Character } from "../../model/character";
import type { Profile } from "../profile";
import { limitOf, makeFaceReader, pairedShapes, type FaceReader } from "./readPairs";

/** A mix of face shapes inside 0..1 that goes beyond a limit. */
export interface BadMix {
  readonly weights: Readonly<Record<string, number>>;
  readonly measure: FaceMeasure;
  readonly value: number;
  readonly limit: number;
  /** How far beyond the limit and beyond what its shapes do alone, share of the limit. */
  readonly excess: number;
}
export interface MixSearch {
  readonly seed: number;
  readonly tried: number;
  readonly bad: readonly BadMix[];
}

/** Shapes in one mix, at least and at most. */
const FEWEST = 2;
const MOST = 4;
/** A mix that is bad is made worse in so many tries. */
const CLIMB = 8;
/** Weights are kept to these steps, so that a mix can be set again by hand. */
const STEP = 0.05;

/**
 * Looks for bad mixes inside 0..1, not only at full: random mixes of a few shapes that move skin in common, each bad
 * one made worse step by step. The same seed gives the
 * same mixes. @param count mixes tried. @throws UserError without a body.
 */
export async function searchMixes(
  character: Character,
  profile: Profile,
  seed: number,
  count: number,
  tick: Tick = () => {},
): Promise<MixSearch> {
  const reader = makeFaceReader(character);
  const names = pairedShapes(character).map((s) => s.name);
  const random = randomFrom(seed);
  const bad = new Map<string, BadMix>();
  for (let i = 0; i < count && names.length >= FEWEST; i++) {
    if (i % 10 === 0) await tick(i, count);
    let weights = drawMix(reader, names, random);
    let worst = excessOf(reader, weights, profile);
    if (!worst) continue;
    for (let k = 0; k < CLIMB; k++) {
      const next = nudged(weights, random);
      const found = excessOf(reader, next, profile);
      if (found && found.excess > worst.excess) [weights, worst] = [next, found];
    }
    const key = `${Object.keys(weights).sort().join(" ")} ${worst.measure}`;
    if ((bad.get(key)?.excess ?? -1) < worst.excess) bad.set(key, { ...worst, weights });
  }
  await tick(count, count);
  return {
    seed,
    tried: count,
    bad: [...bad.values()].sort(
      (a, b) => b.excess - a.excess || Object.keys(a.weights).join().localeCompare(Object.keys(b.weights).join()),
    ),
  };
}

const rounded = (w: number): number => Number((Math.round(Math.min(1, Math.max(STEP, w)) / STEP) * STEP).toFixed(2));

function drawMix(reader: FaceReader, names: readonly string[], random: () => number): Record<string, number> {
  const first = names[Math.floor(random() * names.length)]!;
  const wanted = FEWEST + Math.floor(random() * (MOST - FEWEST + 1));
  const mix: Record<string, number> = { [first]: rounded(random()) };
  for (let tries = 0; tries < 40 && Object.keys(mix).length < wanted; tries++) {
    const next = names[Math.floor(random() * names.length)]!;
    if (mix[next] === undefined && reader.meet(first, next)) mix[next] = rounded(random());
  }
  return mix;
}

function nudged(weights: Readonly<Record<string, number>>, random: () => number): Record<string, number> {
  return Object.fromEntries(
    Object.entries(weights).map(([n, w]) => [n, random() < 0.6 ? rounded(w + (random() - 0.4) * 0.5) : w]),
  );
}

/** The worst measure of a mix beyond its limit and beyond what any of its shapes does alone at full. */
function excessOf(
  reader: FaceReader,
  weights: Readonly<Record<string, number>>,
  profile: Profile,
): Omit<BadMix, "weights"> | null {
  const names = Object.keys(weights);
  const reading: FaceReading = reader.read(new Map(Object.entries(weights)));
  const alone = names.map((n) => reader.alone(n));
  return (
    FACE_MEASURES.flatMap((measure): Omit<BadMix, "weights">[] => {
      const limit = limitOf(profile, measure);
      if (limit === null) return [];
      const beyond = Math.max(limit, ...alone.map((r) => r[measure]));
      return reading[measure] > beyond + 1e-3
        ? [{ measure, value: reading[measure], limit, excess: (reading[measure] - beyond) / Math.max(limit, 1) }]
        : [];
    }).sort((a, b) => b.excess - a.excess)[0] ?? null
  );
}
