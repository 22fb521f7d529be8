import type { Rig } from "../deform/rig";
import { buildBvh, castRay, closestPoint, refitBvh, type Bvh } from "../math/bvh";
import { boxOf } from "../math/boxOf";
import { treeWithin } from "../surface/restTree";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { makeLipGauge, type LipGauge } from "./lipCross";

/** Trees for measuring how far eyes and mouth are open; built once, refitted for every face. */
export interface OpeningGauge {
  readonly body: number;
  /** Eyeballs, each with the skin round it. */
  readonly eyes: readonly { readonly eye: Eyeball; readonly ball: Bvh; readonly lids: Bvh }[];
  /** The skin round the mouth; null without lips. */
  readonly mouth: Bvh | null;
  readonly lips: LipGauge | null;
  /** Vertices of the lips' outer skin. */
  readonly upperLip: Uint32Array;
  readonly lowerLip: Uint32Array;
  /** Upper teeth, the row that the widest opening leaves in place. */
  readonly upperTeeth: { readonly part: number; readonly bvh: Bvh } | null;
  readonly lowerTeeth: number | null;
}

/** Skin within so many radii of an eyeball's middle can come before it; so near to the lips, before them, metres. */
const EYE_ROOM = 3;
const MOUTH_ROOM = 0.03;
/** Distance between lines of sight, metres. */
const STEP = 5e-5;
/**
 * Columns over the width of an eye, and over the mouth; none on the midline, where a line of sight would run along
 * edges and slip between them.
 */
const COLUMNS = 10;

export function makeOpeningGauge(rig: Rig, lips: LipGauge | null = makeLipGauge(rig)): OpeningGauge | null {
  const { character } = rig;
  const body = character.parts.findIndex((p) => p.kind === "body");
  if (body < 0) return null;
  const tree = (part: number): Bvh => buildBvh(rig.triangles[part]!, character.parts[part]!.positions);
  const rows = character.parts
    .flatMap((p, i) => (p.kind === "teeth" ? [i] : []))
    .sort((a, b) => meanHeight(character.parts[b]!.positions) - meanHeight(character.parts[a]!.positions));
  const P = character.parts[body]!.positions;
  const around = (box: { middle: readonly number[]; size: readonly number[] }, room: number): Bvh => {
    const reach = (c: number): number => box.size[c]! / 2 + room;
    const side = (sign: 1 | -1): number[] => [0, 1, 2].map((c) => box.middle[c]! + sign * reach(c));
    return treeWithin(rig.triangles[body]!, P, side(-1), side(1));
  };
  return {
    body,
    lips,
    upperLip: Uint32Array.from(new Set(lips?.finder.still.triangles)),
    lowerLip: Uint32Array.from(new Set(lips?.finder.moving.triangles)),
    mouth: lips && around(boxOf(pointsOf(P, lips.finder.candidates)), MOUTH_ROOM),
    eyes: eyeballsOf(character).map((eye) => ({
      eye,
      ball: tree(eye.part),
      lids: around({ middle: eye.centre, size: [0, 0, 0] }, EYE_ROOM * eye.radius),
    })),
    upperTeeth: rows.length > 1 ? { part: rows[0]!, bvh: tree(rows[0]!) } : null,
    lowerTeeth: rows.length > 1 ? rows[rows.length - 1]! : null,
  };
}

const pointsOf = (P: Float32Array, vertices: Uint32Array): Float32Array => {
  const out = new Float32Array(3 * vertices.length);
  vertices.forEach((v, k) => out.set(P.subarray(3 * v, 3 * v + 3), 3 * k));
  return out;
};

const meanHeight = (P: Float32Array): number =>
  P.reduce((sum, y, i) => (i % 3 === 1 ? sum + y : sum), 0) / (P.length / 3);

const firstHit = (bvh: Bvh, P: Float32Array, x: number, y: number, z: number): number => {
  let first = Infinity;
  castRay(bvh, P, x, y, z, 0, 0, -1, (_, d) => (first = Math.min(first, d)));
  return first;
};

/** Whether a line of sight goes so far without meeting anything. */
const isClear = (bvh: Bvh, P: Float32Array, x: number, y: number, z: number, far: number): boolean => {
  let clear = true;
  castRay(bvh, P, x, y, z, 0, 0, -1, (_, d) => !(clear = d > far), far);
  return clear;
};

/**
 * What is seen of an eyeball between the lids in one column: its side, the lowest and highest place, and over what
 * height in all, metres.
 */
export interface LidColumn {
  readonly x: number;
  readonly low: number;
  readonly high: number;
  readonly open: number;
}

/**
 * Columns over an eye's middle part in which the eyeball is seen from the front between the lids: lines of sight every
 * 0.2 mm, and where one sees it and the next does not, to 0.05 mm.
 * @param positions per part, 3 x vertexCount, face in its rest pose. @param columns how many are asked.
 */
export function lidColumns(
  gauge: OpeningGauge,
  positions: readonly Float32Array[],
  side: "left" | "right",
  columns = COLUMNS,
): LidColumn[] {
  const found = gauge.eyes.find((e) => e.eye.side === side);
  if (!found) return [];
  const P = positions[gauge.body]!;
  const E = positions[found.eye.part]!;
  refitBvh(found.lids, P);
  refitBvh(found.ball, E);
  const [cx, cy, cz] = found.eye.centre;
  const r = found.eye.radius;
  return Array.from({ length: columns }, (_, k): LidColumn => {
    const x = cx + r * (-0.72 + (1.44 * k) / (columns - 1));
    const isSeen = (y: number): boolean =>
      firstHit(found.ball, E, x, y, cz + 4 * r) < firstHit(found.lids, P, x, y, cz + 4 * r);
    const seen = stretchesWhere(cy - 0.7 * r, cy + 0.7 * r, FINE, isSeen);
    return { x, low: seen[0]?.[0] ?? Infinity, high: seen.at(-1)?.[1] ?? -Infinity, open: lengthOf(seen) };
  }).filter((c) => c.open > 0);
}

/**
 * Greatest height in metres over which the eyeball can be seen from the front between the lids, 0 when shut. @param
 * positions per part, 3 x vertexCount, face in its rest pose.
 */
export const lidOpening = (gauge: OpeningGauge, positions: readonly Float32Array[], side: "left" | "right"): number =>
  lidColumns(gauge, positions, side).reduce((most, c) => Math.max(most, c.open), 0);

/** Lips are asked over this share of the way from the middle to the corners. */
const LIP_WIDTH = 0.6;
/** Skin within this height of a lip's edge is the lip, metres. */
const NEAR_EDGE = 0.005;
/** A line of sight that goes this far past the lips has found the mouth open, metres. */
const PAST = 0.012;

/** Lines of sight over a column are so far apart at first, metres: an opening of less than that may be passed over. */
const [FINE, COARSE] = [2e-4, 8e-4];

type Stretch = readonly [from: number, to: number];
const lengthOf = (stretches: readonly Stretch[]): number => stretches.reduce((sum, [a, b]) => sum + b - a, 0);

/**
 * The stretches over which a test holds, metres: asked at most `apart` apart, and where two neighbours differ, halved
 * down to STEP.
 */
function stretchesWhere(from: number, to: number, apart: number, holds: (y: number) => boolean): Stretch[] {
  const steps = Math.max(2, Math.ceil((to - from) / apart));
  const long = (to - from) / steps;
  const out: Stretch[] = [];
  let before = holds(from);
  let since = from;
  for (let i = 1; i <= steps; i++) {
    const b = from + i * long;
    if (holds(b) === before) continue;
    let [low, high] = [b - long, b];
    while (high - low > STEP) {
      const middle = (low + high) / 2;
      if (holds(middle) === before) low = middle;
      else high = middle;
    }
    if (before && low > since) out.push([since, low]);
    since = high;
    before = !before;
  }
  if (before) out.push([since, to]);
  return out;
}

/** Over how much of a stretch a test holds, metres. */
const heightWhere = (from: number, to: number, holds: (y: number) => boolean): number =>
  lengthOf(stretchesWhere(from, to, Math.min(COARSE, Math.max(FINE, (to - from) / 40)), holds));

/** Greatest height in metres of the opening between the lips, seen from the front, 0 when they touch or cross. */
export function lipOpening(gauge: OpeningGauge, positions: readonly Float32Array[]): number {
  const { mouth, upperLip, lowerLip } = gauge;
  if (!gauge.lips || !mouth) return 0;
  const P = positions[gauge.body]!;
  refitBvh(mouth, P);
  const half = LIP_WIDTH * gauge.lips.halfWidth;
  let most = 0;
  for (let k = 0; k < COLUMNS; k++) {
    const x = -half + (2 * half * k) / (COLUMNS - 1);
    let [bottom, top] = [Infinity, -Infinity];
    for (const v of upperLip) if (Math.abs(P[3 * v]! - x) < 0.003) bottom = Math.min(bottom, P[3 * v + 1]!);
    for (const v of lowerLip) if (Math.abs(P[3 * v]! - x) < 0.003) top = Math.max(top, P[3 * v + 1]!);
    if (!Number.isFinite(bottom) || !Number.isFinite(top)) continue;
    let front = -Infinity;
    const nearest = (list: Uint32Array, near: (y: number) => boolean): void => {
      for (const v of list)
        if (Math.abs(P[3 * v]! - x) < 0.003 && near(P[3 * v + 1]!)) front = Math.max(front, P[3 * v + 2]!);
    };
    nearest(upperLip, (y) => y < bottom + NEAR_EDGE);
    nearest(lowerLip, (y) => y > top - NEAR_EDGE);
    const open = heightWhere(Math.min(top, bottom) - 0.002, Math.max(top, bottom) + 0.002, (y) =>
      isClear(mouth, P, x, y, front + 0.05, 0.05 + PAST),
    );
    most = Math.max(most, open);
  }
  return most;
}

/** Least distance in metres from the lower lip to the upper teeth; null without either. */
export function lipToTeeth(gauge: OpeningGauge, positions: readonly Float32Array[]): number | null {
  if (!gauge.lips || !gauge.upperTeeth) return null;
  const P = positions[gauge.body]!;
  const T = positions[gauge.upperTeeth.part]!;
  refitBvh(gauge.upperTeeth.bvh, T);
  let least = Infinity;
  for (const v of gauge.lowerLip)
    least = Math.min(
      least,
      closestPoint(gauge.upperTeeth.bvh, T, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, least).distance,
    );
  return least;
}

/** Front teeth stand within this of the middle, metres. */
const FRONT = 0.01;
/** Vertices of the lower row's front; none without two rows. @param P of the lower row. */
export function lowerFront(P: Float32Array): Uint32Array {
  const out: number[] = [];
  for (let v = 0; v < P.length / 3; v++) if (Math.abs(P[3 * v]!) < FRONT) out.push(v);
  return Uint32Array.from(out);
}
/** Least distance in metres between the rows of teeth in front; null without two rows. @param front `lowerFront`. */
export function teethGap(gauge: OpeningGauge, positions: readonly Float32Array[], front: Uint32Array): number | null {
  if (!gauge.upperTeeth || gauge.lowerTeeth === null || front.length === 0) return null;
  const [U, L] = [positions[gauge.upperTeeth.part]!, positions[gauge.lowerTeeth]!];
  refitBvh(gauge.upperTeeth.bvh, U);
  let least = Infinity;
  for (const v of front)
    least = Math.min(
      least,
      closestPoint(gauge.upperTeeth.bvh, U, L[3 * v]!, L[3 * v + 1]!, L[3 * v + 2]!, least).distance,
    );
  return least;
}

/** Distance between the edges of the central incisors in metres; null without two rows of teeth. */
export function incisorOpening(gauge: OpeningGauge, positions: readonly Float32Array[]): number | null {
  if (!gauge.upperTeeth || gauge.lowerTeeth === null) return null;
  const edge = (part: number, up: 1 | -1): [number, number, number] => {
    const P = positions[part]!;
    let best = -1;
    for (let v = 0; v < P.length / 3; v++)
      if (Math.abs(P[3 * v]!) < 0.006 && (best < 0 || up * P[3 * v + 1]! > up * P[3 * best + 1]!)) best = v;
    return best < 0 ? [0, 0, 0] : [P[3 * best]!, P[3 * best + 1]!, P[3 * best + 2]!];
  };
  const [a, b] = [edge(gauge.upperTeeth.part, -1), edge(gauge.lowerTeeth, 1)];
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
}
