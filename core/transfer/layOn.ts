import { placeNormals } from "../deform/placeNormals";
import { SymmetricMatrix, solveSymmetric } from "../math/symmetricSolve";
import { buildBvh, closestPoint, type Bvh } from "../math/bvh";
import { outerTriangles } from "../measure/outerSkin";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, type Part } from "../model/character";
import { transferSurface, type Tie } from "./transferSurface";

/** Points of one surface and where they belong on the other, metres. */
export interface LandmarkPair {
  readonly from: readonly [number, number, number];
  readonly to: readonly [number, number, number];
}

/** A place on the surface, by its triangle's corners and their shares, and where it belongs, metres. */
export interface SkinTie {
  readonly corners: readonly [number, number, number];
  readonly shares: readonly [number, number, number];
  readonly to: readonly [number, number, number];
}

export interface LayOnOptions {
  /** Places that are known; they pull hard at first and lightly at the end, when what lies near them says more. */
  readonly ties?: readonly SkinTie[];
  /** Vertices that keep their places to others, as lips that touch do; values are from where the surface starts. */
  readonly kept?: readonly Tie[];
  /** Vertices that nothing draws, 1 each; they follow. */
  readonly leftOut?: Uint8Array;
  /** Whether vertices that are not free hold those beside them where they are. */
  readonly held?: boolean;
  /** Whether the border of an open target draws nothing: there the target ends, not the figure. */
  readonly openBorder?: boolean;
  /** Stiffness in turn; left out, down to close. */
  readonly stiffness?: readonly number[];
}

/** Stiffness in turn, from all but rigid to close; each is held for a few rounds. */
export const STIFFNESS = [200, 80, 30, 12, 5, 2, 0.8, 0.3];
const ROUNDS = 3;
/** How far a vertex looks for the other surface, metres: in the first round and in the last. */
const REACH = [0.03, 0.006] as const;
/**
 * Pull of a known place beside that of a vertex's nearest place: at the end, and more of it for each unit of stiffness.
 */
const TIE = [2, 0.3] as const;
/** Normals of a vertex and the place it is drawn to agree at least so far. */
const AGREE = 0.5;

/**
 * Lays a surface on another of any net: every vertex is drawn to the nearest place that faces its way, while the
 * surface's own movement stays smooth, stiff at first and softer from step to step (non-rigid registration after
 * Amberg, Romdhani & Vetter 2007, with one shift a vertex). Skin that lies folded inside, behind lids and lips, is
 * drawn nowhere and follows.
 * @param start where the source's vertices begin, already roughly in place. @param free vertices that are laid; the
 * others stay.
 * @returns places of the source's vertices, 3 x vertexCount.
 */
export async function layOn(
  source: Part,
  start: Float32Array,
  free: Uint8Array,
  target: Part,
  options: LayOnOptions = {},
  tick: Tick = () => {},
): Promise<Float32Array> {
  const { ties = [], kept = [], leftOut, held = false, stiffness: steps = STIFFNESS } = options;
  const laid = start.slice();
  const own = triangulate(source).triangles;
  const onto = triangulate(target).triangles;
  const near = trianglesNear(onto, target.positions, own, start, free);
  const whole = buildBvh(onto, target.positions);
  const border = options.openBorder ? borderVertices(onto) : null;
  const drawing = [...outerTriangles(whole, target.positions, near)].filter(
    (t) => !border || ![0, 1, 2].some((k) => border.has(onto[3 * t + k]!)),
  );
  const bvh = buildBvh(
    Uint32Array.from(drawing.flatMap((t) => [onto[3 * t]!, onto[3 * t + 1]!, onto[3 * t + 2]!])),
    target.positions,
  );
  const targetNormals = placeNormals(target)(target.positions);
  const drawn = outerVertices(own, start, free).filter((v) => !leftOut?.[v]);
  const { cot } = transferSurface(own, start);
  const row = new Int32Array(free.length).fill(-1);
  let n = 0;
  free.forEach((f, v) => (row[v] = f ? n++ : -1));
  if (n === 0) return laid;
  const total = steps.length * ROUNDS;
  for (const [s, stiffness] of steps.entries())
    for (let round = 0; round < ROUNDS; round++) {
      const step = s * ROUNDS + round;
      await tick(step, total);
      const reach = REACH[0] + ((REACH[1] - REACH[0]) * step) / (total - 1);
      const equations = { matrix: new SymmetricMatrix(n), b: [0, 1, 2].map(() => new Float64Array(n)), row, start };
      addSprings(equations, own, cot, stiffness, held);
      const normals = placeNormals(source)(laid);
      addDraws(equations, drawn, { laid, normals }, { bvh, places: target.positions, normals: targetNormals }, reach);
      addTies(equations, ties, TIE[0] + TIE[1] * stiffness);
      addKept(equations, kept);
      moveTo(equations, free, laid);
    }
  await tick(total, total);
  return laid;
}

/** What a round is solved for: the ways that free vertices go from where they started, one right side a coordinate. */
interface Equations {
  readonly matrix: SymmetricMatrix;
  readonly b: readonly Float64Array[];
  /** Row of each vertex; -1 of those that stay. */
  readonly row: Int32Array;
  readonly start: Float32Array;
}

/** Neighbours go the same way, by the stiffness. @param held whether those that stay hold those beside them. */
function addSprings(
  { matrix, row }: Equations,
  own: Uint32Array,
  cot: ArrayLike<number>,
  stiffness: number,
  held: boolean,
): void {
  for (let t = 0; t < own.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const [i, j] = [row[own[t + ((k + 1) % 3)]!]!, row[own[t + ((k + 2) % 3)]!]!];
      const w = stiffness * cot[t + k]!;
      if (i >= 0 && j >= 0) matrix.addSpring(i, j, w);
      else if (held && i + j > -2) matrix.diagonal[Math.max(i, j)]! += w;
    }
}

/** Each vertex is drawn to the nearest place within reach that faces its way. */
function addDraws(
  { matrix, b, row, start }: Equations,
  drawn: readonly number[],
  { laid, normals }: { laid: Float32Array; normals: Float32Array },
  onto: { bvh: Bvh; places: Float32Array; normals: Float32Array },
  reach: number,
): void {
  for (const v of drawn) {
    const normal = [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!];
    const agrees = (t: number): boolean => {
      let sum = 0;
      for (let k = 0; k < 3; k++)
        for (let c = 0; c < 3; c++) sum += normal[c]! * onto.normals[3 * onto.bvh.triangles[3 * t + k]! + c]!;
      return sum > 3 * AGREE;
    };
    const c = closestPoint(onto.bvh, onto.places, laid[3 * v]!, laid[3 * v + 1]!, laid[3 * v + 2]!, reach, agrees);
    if (c.triangle < 0) continue;
    const i = row[v]!;
    matrix.diagonal[i]! += 1;
    [c.x, c.y, c.z].forEach((x, k) => (b[k]![i]! += x - start[3 * v + k]!));
  }
}

/** Known places go where they belong. */
function addTies({ matrix, b, row, start }: Equations, ties: readonly SkinTie[], pull: number): void {
  for (const { corners, shares, to } of ties) {
    const terms = corners.flatMap((v, k) => (row[v]! >= 0 ? [[row[v]!, shares[k]!] as const] : []));
    matrix.addSquare(terms, pull);
    for (let c = 0; c < 3; c++) {
      const way = to[c]! - corners.reduce((sum, v, k) => sum + shares[k]! * start[3 * v + c]!, 0);
      for (const [i, share] of terms) b[c]![i]! += pull * share * way;
    }
  }
}

/** Vertices keep their places to one another. */
function addKept({ matrix, b, row }: Equations, kept: readonly Tie[]): void {
  for (const { terms, value, weight } of kept) {
    const own = terms.flatMap(([v, share]) => (row[v]! >= 0 ? [[row[v]!, share] as const] : []));
    if (own.length < terms.length) continue;
    matrix.addSquare(own, weight);
    for (let c = 0; c < 3; c++) for (const [i, share] of own) b[c]![i]! += weight * share * value[c]!;
  }
}

/** Solves a round, from where the vertices are. */
function moveTo({ matrix, b, row, start }: Equations, free: Uint8Array, laid: Float32Array): void {
  const n = b[0]!.length;
  // a trace of standing still, so that what nothing draws is settled too
  for (let i = 0; i < n; i++) matrix.diagonal[i]! += 1e-6;
  const packed = matrix.packed();
  for (let c = 0; c < 3; c++) {
    const x = new Float64Array(n);
    free.forEach((f, v) => f && (x[row[v]!] = laid[3 * v + c]! - start[3 * v + c]!));
    solveSymmetric(packed, b[c]!, x, 1e-5, 400);
    free.forEach((f, v) => f && (laid[3 * v + c] = start[3 * v + c]! + x[row[v]!]!));
  }
}

/** Triangles of the target within the box of what is laid, and a little more. */
function trianglesNear(
  onto: Uint32Array,
  T: Float32Array,
  own: Uint32Array,
  start: Float32Array,
  free: Uint8Array,
): number[] {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const v of own)
    if (free[v])
      for (let c = 0; c < 3; c++) {
        low[c] = Math.min(low[c]!, start[3 * v + c]! - REACH[0]);
        high[c] = Math.max(high[c]!, start[3 * v + c]! + REACH[0]);
      }
  const out: number[] = [];
  for (let t = 0; t < onto.length / 3; t++)
    if ([0, 1, 2].every((c) => T[3 * onto[3 * t]! + c]! > low[c]! && T[3 * onto[3 * t]! + c]! < high[c]!)) out.push(t);
  return out;
}

/** Vertices on edges that only one triangle has. */
export function borderVertices(triangles: Uint32Array): Set<number> {
  const edges = new Map<number, number>();
  const key = (a: number, b: number): number => Math.min(a, b) * 67108864 + Math.max(a, b);
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const e = key(triangles[t + k]!, triangles[t + ((k + 1) % 3)]!);
      edges.set(e, (edges.get(e) ?? 0) + 1);
    }
  const out = new Set<number>();
  for (const [e, count] of edges) if (count === 1) out.add(Math.floor(e / 67108864)).add(e % 67108864);
  return out;
}

/** Vertices of the laid surface's outer skin. */
function outerVertices(own: Uint32Array, start: Float32Array, free: Uint8Array): number[] {
  const chosen: number[] = [];
  for (let t = 0; t < own.length / 3; t++) if ([0, 1, 2].every((k) => free[own[3 * t + k]!])) chosen.push(t);
  const out = new Set<number>();
  for (const t of outerTriangles(buildBvh(own, start), start, chosen))
    for (let k = 0; k < 3; k++) out.add(own[3 * t + k]!);
  return [...out].sort((a, b) => a - b);
}
