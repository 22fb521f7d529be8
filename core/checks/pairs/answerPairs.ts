import { FACE_MEASURES, type FaceMeasure, type FaceReading, type ShapeShare } from "../../measure/faceGauge";
import type { Tick } from "../../measure/sweepMotion";
import { shapeNamed, type Character, type Shape } from "../../model/character";
import { uniqueName } from "../../model/uniqueName";
import type { DerivedItem } from "../../shapes/deriveShapes";
import type { Profile } from "../profile";
import { limitOf, makeFaceReader, ROUNDING, type FaceReader, type ShapePair } from "./readPairs";

/** Steps in which a shape gives way to another. */
const STEPS = 8;

/**
 * Share of each limit that an answer has to reach: an eyeball's skin is read at its vertices, and lies lower between
 * them.
 */
const SAFE: Readonly<Record<FaceMeasure, number>> = {
  lipCross: 0.9,
  eyeThroughLid: 0.3,
  stretch: 0.95,
  flips: 1,
  lidGap: 0.9,
  teethThrough: 0.9,
  tongueThrough: 0.9,
};

const travel = (s: Shape): number =>
  s.deltas.reduce((sum, d) => sum + d.deltas.reduce((a, x) => a + Math.abs(x), 0), 0);

/**
 * A combination that answers two shapes which do not go together: one of them gives way to the other by as little as
 * brings every measure within its limit or to what either does alone, and the one that loses less movement so. It acts
 * by the product of the two weights, so that each alone stays as it is.
 * @param taken names that are in use; the new one is added. @returns null when the pair is within its limits, or has a
 * combination already.
 */
export function answerPair(
  reader: FaceReader,
  [a, b]: ShapePair,
  profile: Profile,
  taken: Set<string>,
): DerivedItem | null {
  const { character } = reader;
  if (character.shapeDrivers.some((d) => d.of.length === 2 && d.of.includes(a) && d.of.includes(b))) return null;
  const [one, two] = [reader.alone(a), reader.alone(b)];
  const fits = (r: FaceReading): boolean =>
    FACE_MEASURES.every((m) => {
      const limit = limitOf(profile, m);
      return limit === null || r[m] <= Math.max(SAFE[m] * limit, one[m], two[m]) + ROUNDING;
    });
  const together = (more: readonly ShapeShare[]): FaceReading =>
    reader.read(
      new Map([
        [a, 1],
        [b, 1],
      ]),
      more,
    );
  if (!reader.meet(a, b) || fits(together([]))) return null;
  const ways = [a, b].flatMap((giver) => {
    const shape = shapeNamed(character, giver)!;
    const step = Array.from({ length: STEPS }, (_, k) => k + 1).find((k) => fits(together([[shape, -k / STEPS]])));
    return step === undefined ? [] : [{ giver, share: step / STEPS, lost: (step / STEPS) * travel(shape) }];
  });
  const least = ways.sort((x, y) => x.lost - y.lost)[0];
  if (!least) return null;
  const other = least.giver === a ? b : a;
  return {
    name: uniqueName(`${least.giver}_with_${other}`, taken, "combination"),
    label: `${least.giver} gives way to ${other}`,
    from: { way: "mix", of: [{ shape: least.giver, weight: -least.share }] },
    driver: { of: [a, b], rule: "product", enabled: true },
  };
}

/** Combinations for all pairs given that need one. */
export async function answerPairs(
  character: Character,
  pairs: readonly ShapePair[],
  profile: Profile,
  tick: Tick = () => {},
): Promise<DerivedItem[]> {
  const reader = makeFaceReader(character);
  const taken = new Set(character.shapes.map((s) => s.name));
  const out: DerivedItem[] = [];
  for (const [i, pair] of pairs.entries()) {
    await tick(i, pairs.length);
    const made = answerPair(reader, pair, profile, taken);
    if (made) out.push(made);
  }
  await tick(pairs.length, pairs.length);
  return out;
}
