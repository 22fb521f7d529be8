import type { PlainMesh } from "../formats/readPly";
import { applySimilarity, determinant, fitSimilarity, type Similarity } from "../math/similarity";
import { cross, normalize, type Vec3 } from "../math/vec3";
import { buildBvh, closestPoint, type Bvh } from "../math/bvh";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, type Part } from "../model/character";
import { BEFORE, see, type SkinSight } from "../measure/faceLandmarks";
import { after, stepOnto, type PlanePair } from "./stepOnto";

/** How a scan was brought to the character's place. */
export interface PlacedScan {
  /** From the scan's own coordinates to the character's, metres. */
  readonly place: Similarity;
  /** Half of the face lies within this of the placed scan, mm. */
  readonly medianMm: number;
}

/** Units a scan may be in, as metres. */
const UNITS = [1, 0.1, 0.01, 0.001, 0.0254] as const;
/** Sizes a scan of a head or a figure may have, metres. */
const SMALLEST = 0.1;
const LARGEST = 3;
/** How many first places are followed up for a few rounds, and how many of those to the end. */
const TRIED = 32;
const TRIES = 6;
const FOLLOWED = 4;
const ROUNDS = 32;
/**
 * The skin is looked for within this of a point of the scan, and the scan within twice of that from the head, metres.
 */
const LOOK = 0.03;
/** Pairs farther apart than so many medians are not fitted: the scan may lack them. */
const FAR = 3;
/**
 * Sizes that a scan of a head, with more or less of the neck and shoulders, may have where its unit tells nothing,
 * metres.
 */
const HEADS = [0.22, 0.28, 0.36, 0.46] as const;
/** From the top of a head to the chin, a little generously, metres. */
const HEAD_TALL = 0.24;
/** Among places, what lies farther off than this counts no worse, metres. */
const BLIND = 0.02;
/** Where half of the face lies farther than this from the scan at the end, it was not found, mm. */
const LOST_MM = 7;

/** A scan as a part, so that it can be triangulated and laid on. */
export const scanPart = (scan: PlainMesh, positions: Float32Array = scan.positions): Part => ({
  name: "scan",
  kind: "body",
  positions,
  corners: scan.corners,
  faceStarts: scan.faceStarts,
  groups: [],
  uvs: null,
  colors: null,
  skin: null,
});

/** The scan's vertices in the character's place. */
export function placedPositions(scan: PlainMesh, place: Similarity): Float32Array {
  const out = new Float32Array(scan.positions.length);
  for (let i = 0; i < out.length; i += 3)
    out.set(applySimilarity(place, scan.positions[i]!, scan.positions[i + 1]!, scan.positions[i + 2]!), i);
  return out;
}

/** The 24 turns that carry axes onto axes, column-major. */
function quarterTurns(): Float64Array[] {
  const out: Float64Array[] = [];
  for (const [a, b, c] of [
    [0, 1, 2],
    [0, 2, 1],
    [1, 0, 2],
    [1, 2, 0],
    [2, 0, 1],
    [2, 1, 0],
  ] as const)
    for (let signs = 0; signs < 8; signs++) {
      const m = new Float64Array(9);
      [a, b, c].forEach((axis, k) => (m[3 * axis + k] = (signs >> k) & 1 ? -1 : 1));
      if (determinant(m) > 0) out.push(m);
    }
  // upright and facing the same way first: of places that fit alike it is taken
  return out.sort((p, q) => q[0]! + q[4]! + q[8]! - (p[0]! + p[4]! + p[8]!));
}

/** Places of the head's skin with their normals. */
interface Spot {
  readonly at: Vec3;
  readonly normal: Vec3;
}

/** The head's skin as seen from four sides: the face, seen from the front, and the rest. */
function headSpots(sight: SkinSight): { face: Spot[]; rest: Spot[] } {
  const { P, bvh } = sight;
  const { centre, span } = sight.frame;
  const [face, rest]: [Spot[], Spot[]] = [[], []];
  const look = (from: Vec3, way: Vec3, into: Spot[], nearest = Infinity): void => {
    const seen = see(bvh, P, from, way);
    if (!seen || seen.distance > nearest) return;
    into.push({
      at: from.map((x, i) => x + seen.distance * way[i]!) as unknown as Vec3,
      normal: normalOf(sight, seen.triangle),
    });
  };
  for (let i = 0; i < 24; i++)
    for (let j = 0; j < 32; j++) {
      const across = span * (-1.1 + (2.2 * (i + 0.5)) / 24);
      const y = centre[1] + span * (-1.7 + (3.2 * (j + 0.5)) / 32);
      // what lies far behind the eyes is no face any more
      if (j < 26) look([centre[0] + across, y, centre[2] + BEFORE], [0, 0, -1], face, BEFORE + 0.7 * span);
      for (const side of [-1, 1] as const)
        look([centre[0] + side * BEFORE, y, centre[2] - 1.5 * span + across], [-side, 0, 0], rest);
      look([centre[0] + across, y, centre[2] - 2 * BEFORE], [0, 0, 1], rest);
    }
  return { face, rest };
}

/** From the character's place back to the scan's own coordinates. */
export function backTo({ scale, rotation: R, offset }: Similarity, p: Vec3): Vec3 {
  const q = [p[0] - offset[0], p[1] - offset[1], p[2] - offset[2]] as const;
  return [0, 1, 2].map(
    (k) => (R[3 * k]! * q[0] + R[3 * k + 1]! * q[1] + R[3 * k + 2]! * q[2]) / scale,
  ) as unknown as Vec3;
}

/** What is compared: spots of the head, and points of the scan in its own coordinates. */
interface Samples {
  readonly spots: readonly Spot[];
  readonly points: readonly Vec3[];
}

/**
 * How far head and placed scan lie apart, metres, each asked from the other: a scan of the face alone says nothing of
 * the back of the head, and a figure's scan holds more than
 * a head. With the pairs that meet. @param reach what lies farther off is not looked for, metres.
 */
function compare(
  { spots, points }: Samples,
  sight: SkinSight,
  scan: PlainMesh,
  bvh: Bvh,
  place: Similarity,
  reach: number,
): { median: number; score: number; pairs: PlanePair[] } {
  const none = (p: Vec3): PlanePair & { far: number } => ({ far: reach, from: p, to: p, normal: [0, 0, 1], weight: 0 });
  const ofHead = spots.map(({ at, normal }) => {
    const c = closestPoint(bvh, scan.positions, ...backTo(place, at), reach / place.scale);
    return c.triangle < 0
      ? none(at)
      : { far: c.distance * place.scale, from: applySimilarity(place, c.x, c.y, c.z), to: at, normal };
  });
  const ofScan = points.map((p) => {
    const from = applySimilarity(place, ...p);
    const c = closestPoint(sight.bvh, sight.P, ...from, Math.min(reach, LOOK));
    return c.triangle < 0
      ? none(from)
      : { far: c.distance, from, to: [c.x, c.y, c.z] as Vec3, normal: normalOf(sight, c.triangle) };
  });
  const middle = (list: readonly { far: number }[]): number =>
    list.map((f) => f.far).sort((a, b) => a - b)[list.length >> 1] ?? Infinity;
  const mean = (list: readonly { far: number }[]): number =>
    list.reduce((sum, f) => sum + Math.min(f.far, BLIND), 0) / Math.max(1, list.length);
  const pairs = (list: readonly (Omit<PlanePair, "weight"> & { far: number })[]): PlanePair[] => {
    const median = middle(list);
    return list
      .filter((f) => f.far <= FAR * median && f.far < LOOK)
      .map((f) => ({ ...f, weight: 1 / (1 + (f.far / median) ** 2) }));
  };
  return { median: middle(ofHead), score: mean(ofHead) + mean(ofScan), pairs: [...pairs(ofHead), ...pairs(ofScan)] };
}

function normalOf({ bvh, P }: SkinSight, triangle: number): Vec3 {
  const [a, b, c] = [0, 1, 2].map((k) => 3 * bvh.triangles[3 * triangle + k]!) as [number, number, number];
  const [u, v] = [b, c].map((i): Vec3 => [P[i]! - P[a]!, P[i + 1]! - P[a + 1]!, P[i + 2]! - P[a + 2]!]) as [Vec3, Vec3];
  return normalize(cross(u, v));
}

interface First {
  readonly place: Similarity;
  readonly unit: number;
  readonly score: number;
}

/**
 * Brings a scan of any unit, axes and place to the character's face: first places from the boxes of head and scan over
 * all units and quarter turns, the best of them followed up by nearest points (iterative closest point, point to plane
 * after Chen & Medioni 1992, with points that fit badly counting less).
 * @param fitSize whether its size is fitted too; else the scan keeps the size that its unit gives it.
 * @returns null where nothing comes near: then three places of the face must be set by hand.
 */
export async function guessPlace(
  sight: SkinSight,
  scan: PlainMesh,
  fitSize: boolean,
  tick: Tick = () => {},
): Promise<PlacedScan | null> {
  const bvh = buildBvh(triangulate(scanPart(scan)).triangles, scan.positions);
  const { face, rest } = headSpots(sight);
  const points = thinned(scan.positions, 3000);
  const every = sampler([...face, ...rest.filter((_, i) => i % 3 === 0)], points);
  const [all, some, few] = [every(1, 500), every(4, 150), every(12, 50)];
  const compared: Compare = (samples, place, reach = 2 * LOOK) => compare(samples, sight, scan, bvh, place, reach);
  const firstPlaces = placesBySize(sight, face, points, fitSize);
  const firsts: First[] = [];
  const turns = quarterTurns();
  for (const [t, rotation] of turns.entries()) {
    await tick(t, turns.length + FOLLOWED);
    for (const { place, unit } of firstPlaces(rotation, t === 0))
      firsts.push({ place, unit, score: compared(few, place, BLIND).score });
  }
  const better = (list: readonly First[]): First[] => [...list].sort((a, b) => a.score - b.score);
  const tried = better(
    better(firsts)
      .slice(0, TRIED)
      .map((f) => follow(f, TRIES, some, compared, fitSize)),
  ).slice(0, FOLLOWED);
  let best: (PlacedScan & { readonly score: number }) | null = null;
  for (const [n, first] of tried.entries()) {
    await tick(turns.length + n, turns.length + FOLLOWED);
    const near = follow(first, ROUNDS, some, compared, fitSize);
    const { place, score } = follow(near, ROUNDS / 4, all, compared, fitSize);
    if (!best || score < best.score)
      best = { place, score, medianMm: 1000 * compared({ spots: face, points: [] }, place).median };
  }
  return best && best.medianMm < LOST_MM ? { place: best.place, medianMm: best.medianMm } : null;
}

type Compare = (samples: Samples, place: Similarity, reach?: number) => ReturnType<typeof compare>;

/** Some of what can be compared: every so manieth spot, and at most so many points. */
function sampler(spots: readonly Spot[], points: readonly number[]): (spotStep: number, most: number) => Samples {
  const scanned = Array.from({ length: points.length / 3 }, (_, i): Vec3 => [
    points[3 * i]!,
    points[3 * i + 1]!,
    points[3 * i + 2]!,
  ]);
  return (spotStep, most) => ({
    spots: spots.filter((_, i) => i % spotStep === 0),
    points: scanned.filter((_, i) => i % Math.max(1, Math.floor(scanned.length / most)) === 0),
  });
}

/** Places to begin with at a turn, over all sizes a scan may have: by its head's front, and by its whole box. */
function placesBySize(
  sight: SkinSight,
  face: readonly Spot[],
  points: readonly number[],
  fitSize: boolean,
): (rotation: Float64Array, isAsItIs: boolean) => Omit<First, "score">[] {
  const own = boxOf(face.flatMap((f) => [...f.at]));
  const top = headTop(sight);
  const size = Math.max(...[0, 1, 2].map((c) => boxOf(points).high[c]! - boxOf(points).low[c]!));
  const units: number[] = UNITS.filter((u) => u * size >= SMALLEST && u * size <= LARGEST);
  if (fitSize || units.length === 0) units.push(...HEADS.map((h) => h / size));
  return (rotation, isAsItIs) => {
    const turned = new Float64Array(points.length);
    const turn: Similarity = { scale: 1, rotation, offset: [0, 0, 0] };
    for (let i = 0; i < turned.length; i += 3)
      turned.set(applySimilarity(turn, points[i]!, points[i + 1]!, points[i + 2]!), i);
    const box = boxOf(turned);
    const places = units.flatMap((unit) => {
      // the head's front: of what lies as high as a head is tall
      const head = boxOf(turned, box.high[1]! - HEAD_TALL / unit);
      const byHead: Vec3 = [
        sight.frame.centre[0] - (unit * (head.low[0]! + head.high[0]!)) / 2,
        top - unit * box.high[1]!,
        own.high[2]! - unit * head.high[2]!,
      ];
      const byBox = [0, 1, 2].map((c) =>
        c === 2
          ? own.high[2]! - unit * box.high[2]!
          : (own.low[c]! + own.high[c]! - unit * (box.low[c]! + box.high[c]!)) / 2,
      ) as unknown as Vec3;
      return [byHead, byBox].map((offset) => ({ place: { scale: unit, rotation, offset }, unit }));
    });
    const asItIs = UNITS.map((unit) => ({ place: { ...turn, scale: unit }, unit }));
    return isAsItIs ? [...places, ...asItIs] : places;
  };
}

/** Follows a place up by nearest points for some rounds. */
function follow(
  { place: first, unit }: First,
  rounds: number,
  samples: Samples,
  compared: Compare,
  fitSize: boolean,
): First {
  let place = first;
  for (let round = 0; round < rounds; round++) {
    const { pairs } = compared(samples, place);
    if (pairs.length < 30) break;
    const next = after(stepOnto(pairs, fitSize), place);
    // a size that runs away has lost the face
    if (next.scale < 0.6 * unit || next.scale > 1.6 * unit) break;
    place = next;
  }
  return { place, unit, score: compared(samples, place).score };
}

/**
 * Brings a scan to the character by places set on it. @param pairs places on the scan in its own coordinates and on the
 * character; three at least.
 */
export function placeByPairs(
  pairs: readonly { readonly scan: Vec3; readonly own: Vec3 }[],
  scale: number | undefined,
): Similarity {
  return fitSimilarity(
    pairs.flatMap((p) => [...p.scan]),
    pairs.flatMap((p) => [...p.own]),
    { rounds: 1, mirrored: false, scale },
  );
}

const thinned = (P: Float32Array, most: number): number[] => {
  const step = Math.max(1, Math.ceil(P.length / 3 / most));
  const out: number[] = [];
  for (let v = 0; v < P.length / 3; v += step) out.push(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!);
  return out;
};
/** Box of the points above a height. */
function boxOf(P: ArrayLike<number>, above = -Infinity): { low: number[]; high: number[] } {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let i = 0; i < P.length; i++) {
    if (P[i - (i % 3) + 1]! <= above) continue;
    low[i % 3] = Math.min(low[i % 3]!, P[i]!);
    high[i % 3] = Math.max(high[i % 3]!, P[i]!);
  }
  return { low, high };
}
/** Height of the head's top over the eyes. */
function headTop({ P, frame: { centre, span } }: SkinSight): number {
  let top = centre[1];
  for (let i = 0; i < P.length; i += 3)
    if (Math.abs(P[i]! - centre[0]) < span && P[i + 1]! < centre[1] + 5 * span) top = Math.max(top, P[i + 1]!);
  return top;
}
