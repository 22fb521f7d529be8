import { buildBvh, closestPoint, type Bvh } from "../measure/bvh";
import { triangulate, type Character, type Part, type ShapeDelta } from "../model/character";

/** Farther from the skin than this a follower is not carried, metres. */
const REACH = 0.03;
const LEAST_MOVE = 1e-6;

/** A part's rest surface as a tree, for carrying several parts by it. */
export interface CarrySurface {
  readonly triangles: Uint32Array;
  readonly bvh: Bvh;
}
export function carrySurface(part: Part): CarrySurface {
  const { triangles } = triangulate(part);
  return { triangles, bvh: buildBvh(triangles, part.positions) };
}

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
 * @param at 3 x n, metres, same space as the surface. @param surfaceAt rest places of the surface. @param moves movement of the surface, 3 x its vertices.
 * @param fades whether what lies off the surface moves less, down to nothing at the reach.
 */
export function carryPoints(at: Float32Array, surfaceAt: Float32Array, moves: Float32Array, { triangles, bvh }: CarrySurface, reach: number, fades: boolean): Carried {
  const vertices: number[] = [];
  const deltas: number[] = [];
  let farthest = 0;
  for (let v = 0; v < at.length / 3; v++) {
    const c = closestPoint(bvh, surfaceAt, at[3 * v]!, at[3 * v + 1]!, at[3 * v + 2]!, reach);
    if (c.triangle < 0) continue;
    const corners = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    const share = barycentric(surfaceAt, corners, c);
    const fade = fades ? 1 - (c.distance / reach) ** 2 : 1;
    const move = [0, 1, 2].map((k) => fade * corners.reduce((sum, corner, i) => sum + share[i]! * moves[3 * corner + k]!, 0));
    const length = Math.hypot(...move);
    if (length < LEAST_MOVE) continue;
    if (length > SEEN) farthest = Math.max(farthest, c.distance);
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
export function carryMovement(character: Character, part: number, skin: ShapeDelta, surface = carrySurface(character.parts[skin.part]!)): ShapeDelta | null {
  const body = character.parts[skin.part]!;
  const { vertices, deltas } = carryPoints(character.parts[part]!.positions, body.positions, fullMovement(skin, body.positions.length / 3), surface, REACH, false);
  return vertices.length ? { part, vertices, deltas } : null;
}

/** Shares of a triangle's corners at a point in it (Ericson 2005, Real-Time Collision Detection, 3.4). */
export function barycentric(P: Float32Array, [a, b, c]: readonly [number, number, number], p: { x: number; y: number; z: number }): [number, number, number] {
  const from = (v: number): number[] => [P[3 * v]! - P[3 * a]!, P[3 * v + 1]! - P[3 * a + 1]!, P[3 * v + 2]! - P[3 * a + 2]!];
  const dot = (u: readonly number[], w: readonly number[]): number => u[0]! * w[0]! + u[1]! * w[1]! + u[2]! * w[2]!;
  const [u, w, q] = [from(b), from(c), [p.x - P[3 * a]!, p.y - P[3 * a + 1]!, p.z - P[3 * a + 2]!]];
  const [uu, uw, ww, qu, qw] = [dot(u, u), dot(u, w), dot(w, w), dot(q, u), dot(q, w)];
  const area = uu * ww - uw * uw;
  if (area < 1e-20) return [1, 0, 0];
  const s = (ww * qu - uw * qw) / area;
  const t = (uu * qw - uw * qu) / area;
  return [1 - s - t, s, t];
}
