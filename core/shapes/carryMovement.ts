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

/**
 * Movement of a part's vertices as the skin nearest to each moves, mixed from the three corners of the skin's triangle.
 * @param skin what the body does, bind space. @returns null where nothing of the part moves.
 */
export function carryMovement(character: Character, part: number, skin: ShapeDelta, { triangles, bvh } = carrySurface(character.parts[skin.part]!)): ShapeDelta | null {
  const S = character.parts[skin.part]!.positions;
  const moves = new Float32Array(S.length);
  skin.vertices.forEach((v, k) => moves.set(skin.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  const P = character.parts[part]!.positions;
  const vertices: number[] = [];
  const deltas: number[] = [];
  for (let v = 0; v < P.length / 3; v++) {
    const c = closestPoint(bvh, S, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, REACH);
    if (c.triangle < 0) continue;
    const corners = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    const share = barycentric(S, corners, c);
    const move = [0, 1, 2].map((k) => corners.reduce((sum, corner, i) => sum + share[i]! * moves[3 * corner + k]!, 0));
    if (Math.hypot(...move) < LEAST_MOVE) continue;
    vertices.push(v);
    deltas.push(...move);
  }
  return vertices.length ? { part, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) } : null;
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
