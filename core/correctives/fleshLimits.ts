import { blendedLinear3 } from "../deform/skinLinear";
import type { SkinBinding } from "../model/character";

/** A turned or flattened face is opened until it shows this share of its rest area to the side it should face. */
const OPEN = 0.2;

/**
 * Twice the area of each chosen triangle at rest, as a vector along its normal, turned as the skin itself turns in a pose: what its posed normal should agree with.
 * @param chosen triangle indices. @param matrices 16 x jointCount of the pose. @returns 3 per chosen triangle.
 */
export function carriedNormals(triangles: Uint32Array, chosen: Uint32Array, rest: Float32Array, skin: SkinBinding | null, matrices: ArrayLike<number> | null): Float32Array {
  const out = new Float32Array(3 * chosen.length);
  const m = new Float64Array(9);
  const n: [number, number, number] = [0, 0, 0];
  chosen.forEach((t, i) => {
    const [a, b, c] = [3 * triangles[3 * t]!, 3 * triangles[3 * t + 1]!, 3 * triangles[3 * t + 2]!];
    areaVector(rest, a, b, c, n);
    const size = Math.hypot(...n);
    let [x, y, z] = n;
    if (skin && matrices) {
      [x, y, z] = [0, 0, 0];
      for (let k = 0; k < 3; k++) {
        blendedLinear3(skin, matrices, triangles[3 * t + k]!, m);
        x += m[0]! * n[0] + m[3]! * n[1] + m[6]! * n[2];
        y += m[1]! * n[0] + m[4]! * n[1] + m[7]! * n[2];
        z += m[2]! * n[0] + m[5]! * n[1] + m[8]! * n[2];
      }
    }
    const length = Math.hypot(x, y, z);
    if (length > 0) out.set([(x * size) / length, (y * size) / length, (z * size) / length], 3 * i);
  });
  return out;
}

function areaVector(P: ArrayLike<number>, a: number, b: number, c: number, out: [number, number, number]): void {
  const [ux, uy, uz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
  const [vx, vy, vz] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
}

/**
 * Opens triangles that are turned inside out or nearly so, in place: each one's corners are moved in its own plane by as little as shows the wanted area
 * (one pass of position based constraints over the triangles in order; Mueller et al. 2007).
 * @param carried from `carriedNormals`. @param freedom per vertex 0..1; those with 0 stay. @returns how many were turned.
 */
export function openFaces(P: Float32Array, triangles: Uint32Array, chosen: Uint32Array, carried: Float32Array, freedom: Float32Array): number {
  let turned = 0;
  const n: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < chosen.length; i++) {
    const [cx, cy, cz] = [carried[3 * i]!, carried[3 * i + 1]!, carried[3 * i + 2]!];
    const wanted = Math.hypot(cx, cy, cz);
    if (wanted < 1e-14) continue;
    const [x, y, z] = [cx / wanted, cy / wanted, cz / wanted];
    const v = [0, 1, 2].map((k) => triangles[3 * chosen[i]! + k]!);
    const [a, b, c] = [3 * v[0]!, 3 * v[1]!, 3 * v[2]!];
    areaVector(P, a, b, c, n);
    const shown = n[0] * x + n[1] * y + n[2] * z;
    if (shown < 0) turned++;
    const missing = OPEN * wanted - shown;
    if (missing <= 0) continue;
    // the shown area grows fastest when a corner moves square to the opposite edge
    const pull = [[b, c], [c, a], [a, b]].map(([from, to]) => {
      const [ex, ey, ez] = [P[to!]! - P[from!]!, P[to! + 1]! - P[from! + 1]!, P[to! + 2]! - P[from! + 2]!];
      return [y * ez - z * ey, z * ex - x * ez, x * ey - y * ex] as const;
    });
    let sum = 0;
    pull.forEach((g, k) => (sum += freedom[v[k]!]! * (g[0] * g[0] + g[1] * g[1] + g[2] * g[2])));
    if (sum < 1e-14) continue;
    const by = missing / sum;
    pull.forEach((g, k) => {
      for (let d = 0; d < 3; d++) P[3 * v[k]! + d]! += by * freedom[v[k]!]! * g[d]!;
    });
  }
  return turned;
}

/**
 * Shortens edges that are stretched beyond a limit, in place, each by moving its free ends toward each other (one pass of position based constraints).
 * @param edges pairs of vertices. @param most ratio to the rest length. @returns how many were beyond it.
 */
export function shortenEdges(P: Float32Array, rest: Float32Array, edges: Uint32Array, most: number, freedom: Float32Array): number {
  let beyond = 0;
  for (let e = 0; e < edges.length; e += 2) {
    const [va, vb] = [edges[e]!, edges[e + 1]!];
    const [a, b] = [3 * va, 3 * vb];
    const was = Math.hypot(rest[a]! - rest[b]!, rest[a + 1]! - rest[b + 1]!, rest[a + 2]! - rest[b + 2]!);
    const [dx, dy, dz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
    const is = Math.hypot(dx, dy, dz);
    if (was < 1e-6 || is <= most * was) continue;
    beyond++;
    const free = freedom[va]! + freedom[vb]!;
    if (free < 1e-6) continue;
    const by = (is - most * was) / (is * free);
    P[a]! += by * freedom[va]! * dx;
    P[a + 1]! += by * freedom[va]! * dy;
    P[a + 2]! += by * freedom[va]! * dz;
    P[b]! -= by * freedom[vb]! * dx;
    P[b + 1]! -= by * freedom[vb]! * dy;
    P[b + 2]! -= by * freedom[vb]! * dz;
  }
  return beyond;
}
