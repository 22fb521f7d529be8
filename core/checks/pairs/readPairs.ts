import { withDrivenWeights } from "../../evaluate/drivers/driverWeight";
import { makeRig } from "../../deform/rig";
import {
  FACE_MEASURES,
  makeFaceGauge,
  readFace,
  type FaceGauge,
  type FaceMeasure,
  type FaceReading,
  type ShapeShare,
} from "../../measure/faceGauge";
import { eyeFrame, shapePlace, SHAPE_REGIONS } from "../../measure/shapeRegion";
import type { Tick } from "../../measure/sweepMotion";
import { isDriven, type Character, type Shape } from "../../model/character";
import { UserError } from "../../model/userError";
import { shapeMeaning } from "../../names/shapeMeaning";
import { humanoidMap } from "../../skeleton/humanoidMap";
import type { Profile } from "../profile";

/** One measure of two shapes at full together, against the worse of the two alone. */
export interface PairRow {
  readonly a: string;
  readonly b: string;
  readonly measure: FaceMeasure;
  readonly value: number;
  readonly alone: number;
  /** How far the value goes beyond its limit and beyond what either does alone, share of the limit. */
  readonly excess: number;
}
export interface PairRun {
  readonly rows: readonly PairRow[];
  /** Every shape that was paired, region by region from the brows down. */
  readonly shapes: readonly string[];
  readonly pairCount: number;
}
export type ShapePair = readonly [a: string, b: string];

/** Limits of the pair checks; null leaves a measure out. */
export const limitOf = (profile: Profile, measure: FaceMeasure): number | null =>
  ({
    lipCross: profile.limits["face.lip-cross"],
    eyeThroughLid: profile.limits["face.eye-through-lid"],
    stretch: profile.limits["pair.stretch"],
    flips: 0,
    lidGap: profile.limits["face.lid-gap"],
    teethThrough: profile.limits["face.through-skin"],
    tongueThrough: profile.limits["face.through-skin"],
  })[measure];
/** Differences below this are rounding, in each measure's unit. */
export const ROUNDING = 1e-4;

/**
 * Shapes of the face that are played by themselves: no builds, nothing that is driven, no visemes, expressions or
 * presets, which are mixes already.
 */
export function pairedShapes(character: Character): Shape[] {
  const eyes = eyeFrame(character, character.skeleton && humanoidMap(character.skeleton, character.jointMap));
  const region = new Map(
    character.shapes.map((s) => [s, SHAPE_REGIONS.indexOf(shapePlace(character, s, eyes).region)]),
  );
  const names = (a: Shape, b: Shape): number => a.name.localeCompare(b.name, "en", { numeric: true });
  return character.shapes
    .filter((s) => {
      const meaning = shapeMeaning(s.name);
      return (
        !s.jointOffsets &&
        !isDriven(character, s.name) &&
        (meaning === null || meaning.system === "unit") &&
        SHAPE_REGIONS[region.get(s)!] !== "body"
      );
    })
    .sort((a, b) => region.get(a)! - region.get(b)! || names(a, b));
}

/** Each with each, once. */
export const allPairs = (shapes: readonly Shape[]): ShapePair[] =>
  shapes.flatMap((a, i) => shapes.slice(i + 1).map((b): ShapePair => [a.name, b.name]));

/** Tables for reading a character's face again and again. */
export interface FaceReader {
  readonly character: Character;
  readonly gauge: FaceGauge;
  /** The face with shapes at weights, and what they drive with them; `more` is added on top and drives nothing. */
  readonly read: (weights: ReadonlyMap<string, number>, more?: readonly ShapeShare[]) => FaceReading;
  readonly alone: (name: string) => FaceReading;
  /** Whether two shapes move skin in common or are met by a shape that both drive. */
  readonly meet: (a: string, b: string) => boolean;
}

/** @throws UserError without a body. */
export function makeFaceReader(character: Character): FaceReader {
  const gauge = makeFaceGauge(makeRig(character));
  if (!gauge) throw new UserError("The character has no body to measure.", character.name, "");
  const byName = new Map(character.shapes.map((s) => [s.name, s]));
  const drivers = character.shapeDrivers.filter((d) => d.enabled);
  const read = (weights: ReadonlyMap<string, number>, more: readonly ShapeShare[] = []): FaceReading => {
    const all = withDrivenWeights(character, weights);
    return readFace(gauge, [
      ...[...all].flatMap(([n, w]): ShapeShare[] => (byName.has(n) && w !== 0 ? [[byName.get(n)!, w]] : [])),
      ...more,
    ]);
  };
  const readings = new Map<string, FaceReading>();
  const alone = (name: string): FaceReading => {
    if (!readings.has(name)) readings.set(name, read(new Map([[name, 1]])));
    return readings.get(name)!;
  };
  const touched = new Map<string, Set<number>>();
  const touches = (name: string): Set<number> => {
    if (!touched.has(name))
      touched.set(name, new Set(byName.get(name)?.deltas.find((d) => d.part === gauge.part)?.vertices ?? []));
    return touched.get(name)!;
  };
  const meet = (a: string, b: string): boolean => {
    const [few, many] = touches(a).size < touches(b).size ? [touches(a), touches(b)] : [touches(b), touches(a)];
    for (const v of few) if (many.has(v)) return true;
    return drivers.some((d) => d.of.includes(a) && d.of.includes(b));
  };
  return { character, gauge, read, alone, meet };
}

/** What two shapes at a weight do beyond the limits and beyond either alone at full. */
export function readPair(reader: FaceReader, [a, b]: ShapePair, profile: Profile, weight = 1): PairRow[] {
  // what moves nothing in common cannot be worse together
  if (!reader.meet(a, b)) return [];
  const both = reader.read(
    new Map([
      [a, weight],
      [b, weight],
    ]),
  );
  const [one, two] = [reader.alone(a), reader.alone(b)];
  return FACE_MEASURES.flatMap((measure) => {
    const limit = limitOf(profile, measure);
    const value = both[measure];
    const alone = Math.max(one[measure], two[measure]);
    if (limit === null || value <= limit || value <= alone + ROUNDING) return [];
    return [{ a, b, measure, value, alone, excess: (value - Math.max(limit, alone)) / Math.max(limit, 1) }];
  });
}

/** Reads pairs, row by row of the matrix or any others; one list of rows for each. */
export async function readPairs(
  reader: FaceReader,
  pairs: readonly ShapePair[],
  profile: Profile,
  tick: Tick = () => {},
): Promise<PairRow[][]> {
  const out: PairRow[][] = [];
  for (const [i, pair] of pairs.entries()) {
    if (i % 20 === 0) await tick(i, pairs.length);
    out.push(readPair(reader, pair, profile));
  }
  await tick(pairs.length, pairs.length);
  return out;
}

export const worstPairsFirst = (rows: readonly PairRow[]): PairRow[] =>
  [...rows].sort((x, y) => y.excess - x.excess || x.a.localeCompare(y.a) || x.b.localeCompare(y.b));

/** Reads every pair of face shapes at full, worst first. @throws UserError without a body. */
export async function pairRows(character: Character, profile: Profile, tick: Tick = () => {}): Promise<PairRun> {
  const reader = makeFaceReader(character);
  const shapes = pairedShapes(character);
  const pairs = allPairs(shapes);
  const rows = await readPairs(reader, pairs, profile, tick);
  return { rows: worstPairsFirst(rows.flat()), shapes: shapes.map((s) => s.name), pairCount: pairs.length };
}

const hashes = new WeakMap<object, string>();
/** A shape's movement as a short name: equal movements have equal names (FNV-1a over the numbers). */
function contentOf(shape: Shape): string {
  const known = hashes.get(shape.deltas);
  if (known) return known;
  let h = 0x811c9dc5;
  const take = (bytes: Uint8Array): void => {
    for (const b of bytes) h = Math.imul(h ^ b, 0x01000193) >>> 0;
  };
  let size = 0;
  for (const d of shape.deltas) {
    size += d.vertices.length;
    take(new Uint8Array(Uint32Array.of(d.part).buffer));
    take(new Uint8Array(d.vertices.buffer, d.vertices.byteOffset, d.vertices.byteLength));
    take(new Uint8Array(d.deltas.buffer, d.deltas.byteOffset, d.deltas.byteLength));
  }
  const name = `${h.toString(36)}.${size}`;
  hashes.set(shape.deltas, name);
  return name;
}

/**
 * What a pair's reading depends on besides the base: the movement of both and of what both drive. While it stays, the
 * pair need not be read again.
 */
export function pairKey(character: Character, [a, b]: ShapePair): string {
  const of = (name: string): string => {
    const shape = character.shapes.find((s) => s.name === name);
    return shape ? contentOf(shape) : "-";
  };
  const driven = character.shapeDrivers
    .filter((d) => d.enabled && d.of.every((n) => n === a || n === b))
    .map((d) => `${d.rule} ${JSON.stringify(d.span ?? 0)} ${of(d.shape)}`);
  return [a, of(a), b, of(b), ...driven].join("|");
}
