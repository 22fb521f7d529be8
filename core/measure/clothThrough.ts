import { allocateDeformed, deform, type Rig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { barycentric } from "../surface/carryMovement";
import { buildBvh, castRay, closestPoint, refitBvh, type Bvh } from "../math/bvh";
import { add, cross, normalize, pointAt, scale, type Vec3 } from "../math/vec3";
import { computeNormals } from "../deform/computeNormals";
import { placesOf } from "../model/places";
import { sweepAngles, type Tick } from "./sweepMotion";

/** Skin that a garment lies over: a vertex of the body and the place of the garment above it. */
interface Covered {
  readonly vertex: number;
  readonly corners: readonly [number, number, number];
  readonly share: readonly [number, number, number];
  /** Height of the skin over the garment at rest, metres; below zero where it is covered. */
  readonly rest: number;
}

/** Tables for reading skin through one garment, built once. */
export interface ClothGauge {
  readonly rig: Rig;
  readonly body: number;
  readonly garment: number;
  readonly covered: readonly Covered[];
  readonly bvh: Bvh;
}

/** A garment farther from the skin than this does not cover it, metres. */
const COVERS = 0.03;
/** The place above must lie nearly straight over the skin: share of the distance that is height. */
const STRAIGHT = 0.7;
/** Skin that stands out by less is not followed up, metres. */
const LEAST = 5e-4;
/** Cloth that lay within this of skin's own cover at rest is its cover still when it has slid, metres. */
const SLIDES = 0.08;
/** Skin is in sight where nothing lies before it within this, metres, on so many of these ways at least. */
const SIGHT = 0.2;
const SEEN = 3;
const WAYS: readonly (readonly [rise: number, round: number])[] = [
  [1, 0],
  ...[0, 60, 120, 180, 240, 300].map((round) => [0.8, round] as const),
  ...[0, 45, 90, 135, 180, 225, 270, 315].map((round) => [0.35, round] as const),
];
/** Where a line of sight begins, metres before the skin. */
const BEFORE = 5e-4;

const height = (
  P: ArrayLike<number>,
  v: number,
  Q: ArrayLike<number>,
  corners: readonly number[],
  share: readonly number[],
): { h: number; distance: number } => {
  const at = [0, 1, 2].map((c) => corners.reduce((s, w, i) => s + share[i]! * Q[3 * w + c]!, 0));
  const [a, b, d] = corners.map((w) => 3 * w) as [number, number, number];
  const [u, w] = [[0, 1, 2].map((c) => Q[b + c]! - Q[a + c]!), [0, 1, 2].map((c) => Q[d + c]! - Q[a + c]!)];
  const n = [u[1]! * w[2]! - u[2]! * w[1]!, u[2]! * w[0]! - u[0]! * w[2]!, u[0]! * w[1]! - u[1]! * w[0]!];
  const l = Math.hypot(...n) || 1;
  const off = [0, 1, 2].map((c) => P[3 * v + c]! - at[c]!);
  return { h: off.reduce((s, x, c) => s + (x * n[c]!) / l, 0), distance: Math.hypot(...off) };
};

/**
 * The body's vertices within reach of a part, each with the nearest place of the part and its height over it; straight
 * over it only. Null without a body.
 */
function skinOver(
  { character: { parts }, triangles: all }: Rig,
  cover: number,
  reach: number,
): { body: number; bvh: Bvh; places: Covered[] } | null {
  const body = parts.findIndex((p) => p.kind === "body");
  if (body < 0 || body === cover) return null;
  const [P, Q] = [parts[body]!.positions, parts[cover]!.positions];
  const triangles = all[cover]!;
  const bvh = buildBvh(triangles, Q);
  const places: Covered[] = [];
  for (let v = 0; v < P.length / 3; v++) {
    const c = closestPoint(bvh, Q, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, reach);
    if (c.triangle < 0) continue;
    const corners = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    const share = barycentric(Q, corners, c);
    const { h, distance } = height(P, v, Q, corners, share);
    if (Math.abs(h) >= STRAIGHT * distance) places.push({ vertex: v, corners, share, rest: h });
  }
  return { body, bvh, places };
}

/** @returns null when the figure has no body, or the garment covers none of it. */
export function makeClothGauge(rig: Rig, garment: number): ClothGauge | null {
  const found = skinOver(rig, garment, COVERS);
  const covered = found?.places.filter((p) => p.rest < 0) ?? [];
  return found && covered.length ? { rig, body: found.body, garment, covered, bvh: found.bvh } : null;
}

/** Places worst first, as vertices and depths. */
const worstFirst = (out: [vertex: number, depth: number][]): { vertices: number[]; depths: number[] } => {
  out.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  return { vertices: out.map(([v]) => v), depths: out.map(([, d]) => d) };
};

/**
 * Skin that stands out of the garment: vertices of the body, worst first, and the depth of each, metres. @param
 * positions per part, of a deformed moment.
 */
export function clothThrough(
  { rig, body, garment, covered, bvh }: ClothGauge,
  positions: readonly Float32Array[],
): { vertices: number[]; depths: number[] } {
  const [P, Q] = [positions[body]!, positions[garment]!];
  const triangles = rig.triangles[garment]!;
  const rest = rig.character.parts[garment]!.positions;
  const out: [number, number][] = [];
  let fitted = false;
  let hidden: ((vertex: number) => boolean) | null = null;
  for (const c of covered) {
    if (height(P, c.vertex, Q, c.corners, c.share).h < LEAST) continue;
    // the garment may have slid: what counts is the place that lies nearest now
    if (!fitted) refitBvh(bvh, Q);
    fitted = true;
    const over = (accept?: (triangle: number) => boolean): ReturnType<typeof height> | null => {
      const near = closestPoint(bvh, Q, P[3 * c.vertex]!, P[3 * c.vertex + 1]!, P[3 * c.vertex + 2]!, COVERS, accept);
      if (near.triangle < 0) return null;
      const corners = cornersOf(triangles, near.triangle);
      return height(P, c.vertex, Q, corners, barycentric(Q, corners, near));
    };
    const own = over((t) => apart(rest, c.corners[0], triangles[3 * t]!) < SLIDES);
    // beyond a hem it is bare, not through the cloth; deep in a fold or under another layer nobody sees it
    if (!own || own.h < LEAST || own.h < STRAIGHT * own.distance) continue;
    hidden ??= hiddenIn(rig, body, bvh, positions, Q);
    if (!hidden(c.vertex)) out.push([c.vertex, own.h]);
  }
  return worstFirst(out);
}

/** Whether skin or the garment lies before a vertex of the body whichever way it is looked at. */
function hiddenIn(
  rig: Rig,
  body: number,
  cloth: Bvh,
  positions: readonly Float32Array[],
  Q: Float32Array,
): (vertex: number) => boolean {
  const P = positions[body]!;
  const skin = bodyTrees.get(rig) ?? buildBvh(rig.triangles[body]!, P);
  bodyTrees.set(rig, skin);
  refitBvh(skin, P);
  const normals = new Float32Array(P.length);
  computeNormals(P, { quads: new Uint32Array(0), triangles: rig.triangles[body]! }, placesOf(P), normals);
  const meets = (tree: Bvh, at: Float32Array, from: Vec3, way: Vec3): boolean => {
    let met = false;
    castRay(tree, at, ...from, ...way, (_, distance) => (met = distance < SIGHT), SIGHT);
    return met;
  };
  const free = (from: Vec3, way: Vec3): boolean => !meets(cloth, Q, from, way) && !meets(skin, P, from, way);
  return (v) => {
    const n = pointAt(normals, v);
    const side = normalize(cross(n, Math.abs(n[0]) < 0.7 ? [1, 0, 0] : [0, 1, 0]));
    const other = cross(n, side);
    const from = add(pointAt(P, v), scale(n, BEFORE));
    const seen = WAYS.filter(([rise, round]) => {
      const flat = Math.sqrt(1 - rise * rise);
      const [a, b] = [flat * Math.cos((round * Math.PI) / 180), flat * Math.sin((round * Math.PI) / 180)];
      return free(from, add(scale(n, rise), add(scale(side, a), scale(other, b))));
    });
    return seen.length < SEEN;
  };
}
const bodyTrees = new WeakMap<Rig, Bvh>();

const cornersOf = (triangles: Uint32Array, t: number): [number, number, number] => [
  triangles[3 * t]!,
  triangles[3 * t + 1]!,
  triangles[3 * t + 2]!,
];
const apart = (P: ArrayLike<number>, a: number, b: number): number =>
  Math.hypot(P[3 * a]! - P[3 * b]!, P[3 * a + 1]! - P[3 * b + 1]!, P[3 * a + 2]! - P[3 * b + 2]!);

/** Skin farther out of a cover than this is not under it at all, metres. */
const OUT_OF_IT = 0.01;

/**
 * Skin that stands out of a cap of hair or a garment at rest, right over it: vertices of the body, worst first, and the
 * depth of each, metres; null without a body.
 */
export function skinOutside(rig: Rig, cover: number): { body: number; vertices: number[]; depths: number[] } | null {
  const found = skinOver(rig, cover, OUT_OF_IT);
  return (
    found && {
      body: found.body,
      ...worstFirst(found.places.filter((p) => p.rest >= LEAST).map((p) => [p.vertex, p.rest])),
    }
  );
}

/** Where a garment lets skin through along one motion: the worst angle. */
export interface ClothRow {
  readonly garment: string;
  readonly motion: string;
  readonly label: string;
  readonly joint: string;
  readonly angle: number;
  readonly depthMm: number;
  /** Vertices of the body that stand out there, worst first, up to 200. */
  readonly vertices: readonly number[];
}
const MOST_VERTICES = 200;

/**
 * Every garment over every motion, worst first; motions in which nothing comes through are left out. @param steps
 * angles a motion.
 */
export async function clothOverMotions(
  rig: Rig,
  motions: readonly JointMotion[],
  steps: number,
  method: Moment["method"],
  tick: Tick = () => {},
): Promise<ClothRow[]> {
  const gauges = rig.character.parts.flatMap((p, i) => (p.kind === "garment" ? (makeClothGauge(rig, i) ?? []) : []));
  const rows: ClothRow[] = [];
  const out = allocateDeformed(rig);
  for (const [i, motion] of motions.entries()) {
    await tick(i, motions.length);
    const worst = new Map<ClothGauge, ClothRow>();
    for (const angle of gauges.length ? sweepAngles(motion.min, motion.max, steps) : []) {
      const { positions } = deform(
        rig,
        { ...REST_MOMENT, method, pose: motionPose(motion, angle) },
        { out, normals: false },
      );
      for (const gauge of gauges) {
        const { vertices, depths } = clothThrough(gauge, positions);
        const depthMm = 1000 * (depths[0] ?? 0);
        if (depthMm > (worst.get(gauge)?.depthMm ?? 0))
          worst.set(gauge, {
            garment: rig.character.parts[gauge.garment]!.name,
            motion: motion.id,
            label: motion.label,
            joint: motion.joint,
            angle,
            depthMm,
            vertices: vertices.slice(0, MOST_VERTICES),
          });
      }
    }
    rows.push(...worst.values());
  }
  await tick(motions.length, motions.length);
  return rows.sort(
    (a, b) => b.depthMm - a.depthMm || a.garment.localeCompare(b.garment) || a.motion.localeCompare(b.motion),
  );
}
