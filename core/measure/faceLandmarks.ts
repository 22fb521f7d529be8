import type { Vec3 } from "../math/vec3";
import { buildBvh, castRay, type Bvh } from "../math/bvh";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { makeLipGauge, type LipGauge } from "./lipCross";
import { makeRig } from "../deform/rig";
import { triangulate, type Character } from "../model/character";

export const FACE_CURVES = [
  "left upper lid",
  "left lower lid",
  "right upper lid",
  "right lower lid",
  "upper lip",
  "lower lip",
  "nose",
  "chin",
  "left ear",
  "right ear",
] as const;
export type FaceCurve = (typeof FACE_CURVES)[number];

/** A place on the skin that another face has too: on a triangle, by shares of its corners. */
export interface FaceLandmark {
  readonly id: string;
  /** The curve it is a point of; points of a curve stand in order along it. */
  readonly curve: FaceCurve;
  readonly corners: readonly [number, number, number];
  readonly shares: readonly [number, number, number];
  /** Metres, bind space. */
  readonly place: Vec3;
}

/** The face's own frame: between the eyes, and their distance, metres. */
export interface FaceFrame {
  readonly centre: Vec3;
  readonly span: number;
}

/** The skin as lines of sight meet it. */
export interface SkinSight {
  readonly body: number;
  readonly bvh: Bvh;
  readonly P: Float32Array;
  readonly frame: FaceFrame;
  readonly eyes: readonly Eyeball[];
}

/** A place on a surface that a line of sight meets. */
interface Seen {
  readonly distance: number;
  readonly triangle: number;
}

/** Distance between lines of sight, metres. */
const STEP = 2e-4;
/** Points of a lid's or lip's edge, its ends counted. */
const ON_EDGE = 7;
/** A line of sight begins this far before the face, metres. */
export const BEFORE = 0.3;
/** Lines on the midline would run along edges and slip between them, metres. */
const BESIDE = 1e-4;

/** @returns null without a body or without two round eyes. */
export function skinSight(character: Character): SkinSight | null {
  const body = character.parts.findIndex((p) => p.kind === "body");
  const eyes = eyeballsOf(character);
  if (body < 0 || eyes.length < 2) return null;
  const [a, b] = [eyes[0]!.centre, eyes[1]!.centre];
  const part = character.parts[body]!;
  return {
    body,
    P: part.positions,
    eyes,
    bvh: buildBvh(triangulate(part).triangles, part.positions),
    frame: {
      centre: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2],
      span: Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]),
    },
  };
}

/** What a line of sight meets first. @param way of length 1. */
export function see(bvh: Bvh, P: Float32Array, from: Vec3, way: Vec3): Seen | null {
  let first: Seen | null = null;
  castRay(bvh, P, ...from, ...way, (triangle, distance) => {
    if (distance < (first?.distance ?? Infinity)) first = { triangle, distance };
  });
  return first;
}

/** What is seen of the skin from the front at a height and a side. */
export const fromFront = (s: SkinSight, x: number, y: number): Seen | null =>
  see(s.bvh, s.P, [x, y, s.frame.centre[2] + BEFORE], [0, 0, -1]);
const depthOf = (s: SkinSight, seen: Seen): number => s.frame.centre[2] + BEFORE - seen.distance;

/**
 * Finds the places of a face that any other face has, by its form alone: edges of the lids where the eyeball stops
 * being seen, the line between the lips, the nose's profile and wings, the chin, the ears. Nothing is asked of names.
 * Places that cannot be found (no lips without an opening mouth) are left out. Points of one curve stand from the
 * character's right to its left, or from above down.
 */
export function faceLandmarks(character: Character): FaceLandmark[] {
  const sight = skinSight(character);
  if (!sight) return [];
  const lips = makeLipGauge(makeRig(character));
  const mouth = lips ? lipEdges(sight, lips) : null;
  return [
    ...sight.eyes.flatMap((eye) => lidEdges(sight, character, eye)),
    ...(mouth?.points ?? []),
    ...profile(sight, mouth?.height ?? sight.frame.centre[1] - 1.05 * sight.frame.span),
    ...(["left", "right"] as const).flatMap((side) => ear(sight, side)),
  ];
}

const named = (s: SkinSight, curve: FaceCurve, n: string, seen: Seen, at: Vec3): FaceLandmark => {
  const T = s.bvh.triangles;
  const corners = [T[3 * seen.triangle]!, T[3 * seen.triangle + 1]!, T[3 * seen.triangle + 2]!] as const;
  return { id: `${curve} ${n}`, curve, corners, shares: sharesAt(s.P, corners, at), place: at };
};

/** Shares of a triangle's corners at a point of its plane. */
function sharesAt(P: Float32Array, corners: readonly [number, number, number], at: Vec3): [number, number, number] {
  const [a, b, c] = corners.map((v) => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!] as const) as [Vec3, Vec3, Vec3];
  const minus = (p: Vec3, q: Vec3): Vec3 => [p[0] - q[0], p[1] - q[1], p[2] - q[2]];
  const dot = (p: Vec3, q: Vec3): number => p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
  const [u, v, w] = [minus(b, a), minus(c, a), minus(at, a)];
  const [uu, uv, vv, wu, wv] = [dot(u, u), dot(u, v), dot(v, v), dot(w, u), dot(w, v)];
  const det = uu * vv - uv * uv || 1e-30;
  const [s, t] = [(vv * wu - uv * wv) / det, (uu * wv - uv * wu) / det];
  return [1 - s - t, s, t];
}

function lidEdges(s: SkinSight, character: Character, eye: Eyeball): FaceLandmark[] {
  const E = character.parts[eye.part]!.positions;
  const ball = buildBvh(triangulate(character.parts[eye.part]!).triangles, E);
  const [cx, cy] = eye.centre;
  const r = eye.radius;
  /** Lowest and highest place where the eyeball is seen in a column. */
  const open = (x: number): readonly [number, number] | null => {
    let [low, high] = [Infinity, -Infinity];
    for (let y = cy - 0.8 * r; y < cy + 0.8 * r; y += STEP) {
      const [skin, own] = [fromFront(s, x, y), see(ball, E, [x, y, s.frame.centre[2] + BEFORE], [0, 0, -1])];
      if (own && own.distance < (skin?.distance ?? Infinity)) [low, high] = [Math.min(low, y), Math.max(high, y)];
    }
    return high >= low ? [low, high] : null;
  };
  const columns: number[] = [];
  for (let x = cx - 1.1 * r; x <= cx + 1.1 * r; x += 2 * STEP) if (open(x)) columns.push(x);
  if (columns.length < ON_EDGE) return [];
  const [from, to] = [columns[0]!, columns[columns.length - 1]!];
  const out: FaceLandmark[] = [];
  for (const edge of ["upper", "lower"] as const)
    for (let k = edge === "upper" ? 0 : 1; k < (edge === "upper" ? ON_EDGE : ON_EDGE - 1); k++) {
      const x = from + ((to - from) * k) / (ON_EDGE - 1);
      const gap = open(x);
      if (!gap) continue;
      const y = edge === "upper" ? gap[1] + STEP : gap[0] - STEP;
      const seen = fromFront(s, x, y);
      if (seen) out.push(named(s, `${eye.side} ${edge} lid`, `${k + 1}`, seen, [x, y, depthOf(s, seen)]));
    }
  return out;
}

function lipEdges(s: SkinSight, { finder, halfWidth }: LipGauge): { points: FaceLandmark[]; height: number } {
  const P = s.P;
  const { centre } = finder.region;
  const reach = 0.35 * s.frame.span;
  const front: Vec3 = [0, 0, s.frame.centre[2] + BEFORE];
  const points: FaceLandmark[] = [];
  let height = centre[1];
  // where a lip's list of triangles gives what is seen, the skin's own tree says on which triangle that is
  const edge = (x: number, lip: "upper" | "lower"): number | null => {
    let found: number | null = null;
    for (let y = centre[1] - reach; y <= centre[1] + reach; y += STEP) {
      const up = see(finder.still, P, [x, y, front[2]], [0, 0, -1])?.distance ?? Infinity;
      const low = see(finder.moving, P, [x, y, front[2]], [0, 0, -1])?.distance ?? Infinity;
      if (lip === "lower" && low < up) found = y;
      if (lip === "upper" && up < low && found === null) found = y;
      if (lip === "upper" && low < up) found = null;
    }
    return found;
  };
  for (const lip of ["upper", "lower"] as const)
    for (let k = lip === "upper" ? 0 : 1; k < (lip === "upper" ? ON_EDGE : ON_EDGE - 1); k++) {
      const x = s.frame.centre[0] + 0.96 * halfWidth * ((2 * k) / (ON_EDGE - 1) - 1) + BESIDE;
      const y = edge(x, lip);
      const seen = y === null ? null : fromFront(s, x, y);
      if (!seen || y === null) continue;
      if (k === (ON_EDGE - 1) / 2) height = y;
      points.push(named(s, `${lip} lip`, `${k + 1}`, seen, [x, y, depthOf(s, seen)]));
    }
  return { points, height };
}

/** Nose and chin from the face's profile. @param mouth height of the line between the lips. */
function profile(s: SkinSight, mouth: number): FaceLandmark[] {
  const { centre, span } = s.frame;
  const x = centre[0] + BESIDE;
  const line: { y: number; z: number; seen: Seen }[] = [];
  for (let y = mouth - 1.1 * span; y <= centre[1] + 0.4 * span; y += 5e-4) {
    const seen = fromFront(s, x, y);
    if (seen) line.push({ y, z: depthOf(s, seen), seen });
  }
  const between = (low: number, high: number, farthest: 1 | -1): (typeof line)[number] | null =>
    line
      .filter((p) => p.y >= low && p.y <= high)
      .reduce<(typeof line)[number] | null>(
        (best, p) => (best && farthest * best.z >= farthest * p.z ? best : p),
        null,
      );
  const out: FaceLandmark[] = [];
  const put = (curve: FaceCurve, n: string, p: (typeof line)[number] | null): void =>
    void (p && out.push(named(s, curve, n, p.seen, [x, p.y, p.z])));
  const tip = between(mouth + 0.12 * span, centre[1] - 0.15 * span, 1);
  const root = between(centre[1] - 0.15 * span, centre[1] + 0.35 * span, -1);
  const base = tip && between(mouth + 0.08 * span, tip.y, -1);
  put("nose", "root", root);
  put("nose", "ridge", root && tip && between((root.y + tip.y) / 2 - 6e-4, (root.y + tip.y) / 2 + 6e-4, 1));
  put("nose", "tip", tip);
  put("nose", "base", base);
  if (tip && base)
    for (const side of [-1, 1] as const) out.push(...wing(s, side, base.y + 0.3 * (tip.y - base.y), base.z));
  const fold = between(mouth - 0.4 * span, mouth - 0.06 * span, -1);
  put("chin", "fold", fold);
  put("chin", "point", fold && between(mouth - 1.1 * span, fold.y, 1));
  return out;
}

/** The nose's side is looked at over twice this width, metres. */
const WING = 0.0025;
/** and must fall off by this there: a child's nose may have no wing to speak of, metres. */
const LEAST_FALL = 0.004;
/** Where the nose's side falls off to the cheek most steeply, at a height. */
function wing(s: SkinSight, side: 1 | -1, y: number, floor: number): FaceLandmark[] {
  const { centre, span } = s.frame;
  let best: { x: number; fall: number; seen: Seen } | null = null;
  for (let out = 0.1 * span; out < 0.3 * span; out += 5e-4) {
    const x = centre[0] + side * out;
    const [before, seen, after] = [-WING, 0, WING].map((d) => fromFront(s, x + side * d, y));
    if (!before || !seen || !after || depthOf(s, seen) < floor - 0.15 * span) continue;
    const fall = after.distance - before.distance;
    if (fall > (best?.fall ?? LEAST_FALL)) best = { x, fall, seen };
  }
  return best
    ? [named(s, "nose", side > 0 ? "left wing" : "right wing", best.seen, [best.x, y, depthOf(s, best.seen)])]
    : [];
}

/** Distance between lines of sight at an ear, metres. */
const GRID = 0.0015;
interface Spot {
  readonly row: number;
  readonly column: number;
  readonly y: number;
  readonly z: number;
  readonly out: number;
  readonly seen: Seen;
}
/** The spots that hang together with one of them. */
function joinedTo(first: Spot, all: readonly Spot[]): Spot[] {
  const at = new Map(all.map((f) => [`${f.row} ${f.column}`, f]));
  const out = new Set([first]);
  for (const f of out)
    for (const [r, c] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      const next = at.get(`${f.row + r} ${f.column + c}`);
      if (next) out.add(next);
    }
  return [...out];
}

/** Top, outmost place and lobe of an ear: what stands out of the side of the head behind the eyes. */
function ear(s: SkinSight, side: "left" | "right"): FaceLandmark[] {
  const { centre, span } = s.frame;
  const sign = side === "left" ? 1 : -1;
  const found: Spot[] = [];
  for (let row = 0; row * GRID <= 2.3 * span; row++)
    for (let column = 0; column * GRID <= 1.8 * span; column++) {
      const [y, z] = [centre[1] - 1.3 * span + row * GRID, centre[2] - 2.6 * span + column * GRID];
      const seen = see(s.bvh, s.P, [centre[0] + sign * BEFORE, y, z], [-sign, 0, 0]);
      if (seen) found.push({ row, column, y, z, seen, out: BEFORE - seen.distance });
    }
  if (found.length < 50) return [];
  const rows = new Map<number, number[]>();
  for (const f of found) rows.set(f.row, [...(rows.get(f.row) ?? []), f.out]);
  const middle = new Map([...rows].map(([row, outs]) => [row, outs.sort((a, b) => a - b)[outs.length >> 1]!]));
  const over = (f: Spot): number => f.out - middle.get(f.row)!;
  const most = Math.max(...found.map(over));
  if (most < 0.08 * span) return [];
  const standing = joinedTo(
    found.reduce((a, b) => (over(b) > over(a) ? b : a)),
    found.filter((f) => over(f) > 0.6 * most),
  );
  const by = (score: (f: Spot) => number): Spot => standing.reduce((a, b) => (score(b) > score(a) ? b : a));
  return (
    [
      ["top", (f) => f.y],
      ["rim", (f) => f.out],
      ["lobe", (f) => -f.y],
    ] as [string, (f: Spot) => number][]
  ).map(([n, score]) => {
    const f = by(score);
    return named(s, `${side} ear`, n, f.seen, [centre[0] + sign * f.out, f.y, f.z]);
  });
}
