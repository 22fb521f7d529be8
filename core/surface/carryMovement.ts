import { closestPoint, type Bvh } from "../math/bvh";
import { restTree } from "./restTree";
import { triangulate, type Character, type Part, type ShapeDelta } from "../model/character";

/** Farther from the skin than this a follower is not carried, metres. */
const REACH = 0.03;
const LEAST_MOVE = 1e-6;

/** A part's rest surface as a tree, for carrying several parts by it. */
export interface CarrySurface {
  readonly triangles: Uint32Array;
  readonly bvh: Bvh;
}
/** Its tree is shared and must not be refitted. */
export function carrySurface(part: Part): CarrySurface {
  const { triangles } = triangulate(part);
  return { triangles, bvh: restTree(triangles, part.positions) };
}

/**
 * Points bound to a surface: for each its nearest triangle (-1 beyond the reach), the shares of its corners, and the
 * distance in metres.
 */
interface Bound {
  readonly surfaceAt: Float32Array;
  readonly reach: number;
  readonly triangle: Int32Array;
  readonly shares: Float32Array;
  readonly distance: Float32Array;
}
const bound = new WeakMap<CarrySurface, WeakMap<Float32Array, Bound>>();

function bindTo(surface: CarrySurface, at: Float32Array, surfaceAt: Float32Array, reach: number): Bound {
  const ofSurface = bound.get(surface) ?? bound.set(surface, new WeakMap()).get(surface)!;
  const known = ofSurface.get(at);
  if (known && known.surfaceAt === surfaceAt && known.reach === reach) return known;
  const count = at.length / 3;
  const made: Bound = {
    surfaceAt,
    reach,
    triangle: new Int32Array(count),
    shares: new Float32Array(at.length),
    distance: new Float32Array(count),
  };
  for (let v = 0; v < count; v++) {
    const c = closestPoint(surface.bvh, surfaceAt, at[3 * v]!, at[3 * v + 1]!, at[3 * v + 2]!, reach);
    made.triangle[v] = c.triangle;
    made.distance[v] = c.distance;
    if (c.triangle >= 0) made.shares.set(barycentric(surfaceAt, cornersOf(surface.triangles, c.triangle), c), 3 * v);
  }
  ofSurface.set(at, made);
  return made;
}
const cornersOf = (triangles: Uint32Array, t: number): [number, number, number] => [
  triangles[3 * t]!,
  triangles[3 * t + 1]!,
  triangles[3 * t + 2]!,
];

/** Movement handed over by a surface: sparse, with how far the farthest vertex lies that it moves visibly, metres. */
export interface Carried {
  readonly vertices: Uint32Array;
  readonly deltas: Float32Array;
  readonly farthest: number;
}
/** Movement below this is not counted when the distance is told, metres. */
const SEEN = 3e-4;

/**
 * Movement of points as the surface nearest to each moves, mixed from the three corners of its triangle.
 * @param at 3 x n, metres, same space as the surface. @param surfaceAt rest places of the surface. @param moves
 * movement of the surface, 3 x its vertices.
 * @param fades whether what lies off the surface moves less, down to nothing at the reach.
 */
export function carryPoints(
  at: Float32Array,
  surfaceAt: Float32Array,
  moves: Float32Array,
  surface: CarrySurface,
  reach: number,
  fades: boolean,
): Carried {
  const vertices: number[] = [];
  const deltas: number[] = [];
  let farthest = 0;
  const { triangle, shares, distance } = bindTo(surface, at, surfaceAt, reach);
  for (let v = 0; v < triangle.length; v++) {
    if (triangle[v]! < 0) continue;
    const corners = cornersOf(surface.triangles, triangle[v]!);
    const fade = fades ? 1 - (distance[v]! / reach) ** 2 : 1;
    const move = [0, 1, 2].map(
      (k) => fade * corners.reduce((sum, corner, i) => sum + shares[3 * v + i]! * moves[3 * corner + k]!, 0),
    );
    const length = Math.hypot(...move);
    if (length < LEAST_MOVE) continue;
    if (length > SEEN) farthest = Math.max(farthest, distance[v]!);
    vertices.push(v);
    deltas.push(...move);
  }
  return { vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas), farthest };
}

/** Movement of a sparse delta as a full table. @param vertexCount of its part. */
export function fullMovement(delta: Pick<ShapeDelta, "vertices" | "deltas">, vertexCount: number): Float32Array {
  const moves = new Float32Array(3 * vertexCount);
  delta.vertices.forEach((v, k) => moves.set(delta.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  return moves;
}

/**
 * Movement of a part's vertices as the skin nearest to each moves.
 * @param skin what the body does, bind space. @returns null where nothing of the part moves.
 */
export function carryMovement(
  character: Character,
  part: number,
  skin: ShapeDelta,
  surface = carrySurface(character.parts[skin.part]!),
): ShapeDelta | null {
  const body = character.parts[skin.part]!;
  const { vertices, deltas } = carryPoints(
    character.parts[part]!.positions,
    body.positions,
    fullMovement(skin, body.positions.length / 3),
    surface,
    REACH,
    false,
  );
  return vertices.length ? { part, vertices, deltas } : null;
}

/** Shares of a triangle's corners at a point in it (Ericson 2005, Real-Time Collision Detection, 3.4). */
export function barycentric(
  P: Float32Array,
  [a, b, c]: readonly [number, number, number],
  p: { x: number; y: number; z: number },
): [number, number, number] {
  const from = (v: number): number[] => [
    P[3 * v]! - P[3 * a]!,
    P[3 * v + 1]! - P[3 * a + 1]!,
    P[3 * v + 2]! - P[3 * a + 2]!,
  ];
  const dot = (u: readonly number[], w: readonly number[]): number => u[0]! * w[0]! + u[1]! * w[1]! + u[2]! * w[2]!;
  const [u, w, q] = [from(b), from(c), [p.x - P[3 * a]!, p.y - P[3 * a + 1]!, p.z - P[3 * a + 2]!]];
  const [uu, uw, ww, qu, qw] = [dot(u, u), dot(u, w), dot(w, w), dot(q, u), dot(q, w)];
  const area = uu * ww - uw * uw;
  if (area < 1e-20) return [1, 0, 0];
  const s = (ww * qu - uw * qw) / area;
  const t = (uu * qw - uw * qu) / area;
  return [1 - s - t, s, t];
}
