import { buildBvh, closestPoint, nodesHolding, refitBvh, windingNumber, type Bvh } from "../math/bvh";
import { refitMoved } from "../math/refitMoved";
import { ownTree } from "../surface/restTree";
import type { JointRegion } from "./jointRegion";

/** Trees for finding where the two sides of a joint push into each other; refitted for every pose. */
export interface OverlapFinder {
  readonly region: JointRegion;
  readonly triangles: Uint32Array;
  readonly whole: Bvh;
  readonly moving: Bvh;
  readonly still: Bvh;
  /** Vertices that are tested. */
  readonly candidates: Uint32Array;
  /** Nodes of the three trees to refit for every pose; all when absent. */
  readonly refit?: readonly [whole: Uint32Array, moving: Uint32Array, still: Uint32Array];
}

const pick = (triangles: Uint32Array, chosen: Uint32Array): Uint32Array => {
  const out = new Uint32Array(3 * chosen.length);
  chosen.forEach((t, i) => out.set(triangles.subarray(3 * t, 3 * t + 3), 3 * i));
  return out;
};

/**
 * @param positions rest positions, 3 x vertexCount: they only shape the trees. @param whole a tree over all triangles,
 * when one exists already.
 */
export function makeOverlapFinder(
  region: JointRegion,
  triangles: Uint32Array,
  positions: Float32Array,
  whole?: Bvh,
): OverlapFinder {
  const used = new Uint8Array(positions.length / 3);
  for (const v of triangles) used[v] = 1;
  const candidates: number[] = [];
  for (let v = 0; v < used.length; v++) if (used[v]) candidates.push(v);
  return {
    region,
    triangles,
    whole: whole ?? buildBvh(triangles, positions),
    moving: buildBvh(pick(triangles, region.moving), positions),
    still: buildBvh(pick(triangles, region.still), positions),
    candidates: Uint32Array.from(candidates),
  };
}

/**
 * The finder for a pose in which only some vertices move any more: only they are tested, and the trees stay as they are
 * elsewhere. @param posed the pose, 3 x vertexCount.
 */
export function onlyMoving(finder: OverlapFinder, posed: Float32Array, vertices: Uint32Array): OverlapFinder {
  const marked = new Uint8Array(posed.length / 3);
  for (const v of vertices) marked[v] = 1;
  // trees of its own: others may pose theirs in between
  const [whole, moving, still] = [finder.whole, finder.moving, finder.still].map((tree) => {
    const own = ownTree(tree);
    refitBvh(own, posed);
    return own;
  }) as [Bvh, Bvh, Bvh];
  return {
    ...finder,
    whole,
    moving,
    still,
    candidates: finder.candidates.filter((v) => marked[v]),
    refit: [nodesHolding(whole, marked), nodesHolding(moving, marked), nodesHolding(still, marked)],
  };
}

const TREES = ["whole", "moving", "still"] as const;
/** Fits a tree to a pose: the nodes that can move where they are known, else those of what moved since last time. */
function refit(finder: OverlapFinder, tree: 0 | 1 | 2, posed: Float32Array): void {
  if (finder.refit) refitBvh(finder[TREES[tree]], posed, finder.refit[tree]);
  else refitMoved(finder[TREES[tree]], posed);
}

export interface Overlap {
  /** Largest depth, metres. */
  readonly depth: number;
  /** Depth of each vertex, metres, 0 where it is clear. */
  readonly depths: Float32Array;
}

/**
 * Deeper than this the two sides are not pressed together but crossed altogether: still reported, capped here (metres).
 */
const DEEPEST = 0.08;

/** Part of the joint's radius within which what lay beside a vertex at rest is its own skin. */
const SAME_PLACE = 0.25;
/** How far outside its own skin the probe of a vertex is (metres). */
const OUTSIDE = 2e-4;
/** Room round a box in which the closest point is looked for (metres). */
const PAD = 0.001;

/** Nearer than this the other side is open where the joint is, and does not wrap a point by itself (metres). */
const FAR = 0.03;

/**
 * Depth of one side of a joint inside the other in a pose. A vertex counts when the closest point of the other side
 * lies in front of it facing back at it, and a probe just outside its own skin is wrapped by the surface (winding
 * number 1 or more): the two tests together leave out mere folds and rest contact.
 * @param rest, posed 3 x vertexCount, metres. @param normals of the posed surface. @param allowed per vertex: a depth
 * up to this does not count, metres.
 */
export function skinOverlap(
  finder: OverlapFinder,
  rest: Float32Array,
  posed: Float32Array,
  normals: Float32Array,
  allowed?: Float32Array,
): Overlap {
  const { region } = finder;
  refit(finder, 1, posed);
  refit(finder, 2, posed);
  // the whole is asked only about vertices that the two sides make suspect
  let wholeFits = false;
  const fitWhole = (): void => {
    if (!wholeFits) refit(finder, 0, posed);
    wholeFits = true;
  };
  const depths = new Float32Array(posed.length / 3);
  let deepest = 0;
  const skip = SAME_PLACE * region.radius;
  for (const v of finder.candidates) {
    const isMoving = region.share[v]! > 0.5;
    const other = isMoving ? finder.still : finder.moving;
    if (other.nodeCount === 0) continue;
    const x = posed[3 * v]!;
    const y = posed[3 * v + 1]!;
    const z = posed[3 * v + 2]!;
    if (!inBox(other, x, y, z)) continue;
    const c = closestPoint(other, posed, x, y, z, DEEPEST);
    if (c.triangle < 0 || c.distance < 1e-5 || (allowed && c.distance <= allowed[v]!)) continue;
    if (!isBehind(v, x, y, z, c, other.triangles, normals)) continue;
    if (distanceBetween(rest, v, other.triangles[3 * c.triangle]!) < skip) continue;
    fitWhole();
    const nx = OUTSIDE * normals[3 * v]!;
    const ny = OUTSIDE * normals[3 * v + 1]!;
    const nz = OUTSIDE * normals[3 * v + 2]!;
    if (windingNumber(finder.whole, posed, x + nx, y + ny, z + nz) < 1) continue;
    // a fold of its own side wraps it as well: far from the joint the other side must do so by itself
    if (c.distance > Math.max(FAR, region.radius) && windingNumber(other, posed, x, y, z) < 1) continue;
    depths[v] = c.distance;
    if (c.distance > deepest) deepest = c.distance;
  }
  return { depth: deepest, depths };
}

/** Whether a point can be in a side at all: it is in the box round it. */
function inBox({ bounds }: Bvh, x: number, y: number, z: number): boolean {
  return (
    x >= bounds[0]! - PAD &&
    y >= bounds[1]! - PAD &&
    z >= bounds[2]! - PAD &&
    x <= bounds[3]! + PAD &&
    y <= bounds[4]! + PAD &&
    z <= bounds[5]! + PAD
  );
}

/** Whether a vertex lies behind the triangle closest to it, and the two face each other. */
function isBehind(
  v: number,
  x: number,
  y: number,
  z: number,
  c: { readonly triangle: number; readonly x: number; readonly y: number; readonly z: number },
  list: Uint32Array,
  normals: Float32Array,
): boolean {
  const a = 3 * list[3 * c.triangle]!;
  const b = 3 * list[3 * c.triangle + 1]!;
  const d = 3 * list[3 * c.triangle + 2]!;
  const fx = normals[a]! + normals[b]! + normals[d]!;
  const fy = normals[a + 1]! + normals[b + 1]! + normals[d + 1]!;
  const fz = normals[a + 2]! + normals[b + 2]! + normals[d + 2]!;
  if (normals[3 * v]! * fx + normals[3 * v + 1]! * fy + normals[3 * v + 2]! * fz > 0) return false;
  return (x - c.x) * fx + (y - c.y) * fy + (z - c.z) * fz < 0;
}

const distanceBetween = (P: Float32Array, v: number, w: number): number =>
  Math.hypot(P[3 * v]! - P[3 * w]!, P[3 * v + 1]! - P[3 * w + 1]!, P[3 * v + 2]! - P[3 * w + 2]!);
