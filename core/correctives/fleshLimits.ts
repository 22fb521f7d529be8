import { areaVector } from "../measure/turnedFaces";

/** A turned or flattened face is opened until it shows this share of its rest area to the side it should face. */
const OPEN = 0.4;

/**
 * Opens triangles that are turned inside out or nearly so, in place: each one's corners are moved in its own plane by
 * as little as shows the wanted area
 * (one pass of position based constraints over the triangles in order; Mueller et al. 2007).
 * @param carried from `carriedNormals`. @param freedom per vertex 0..1; those with 0 stay. @returns how many were
 * turned.
 */
export function openFaces(
  P: Float32Array,
  triangles: Uint32Array,
  chosen: Uint32Array,
  carried: Float32Array,
  freedom: Float32Array,
): number {
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
    const pull = [
      [b, c],
      [c, a],
      [a, b],
    ].map(([from, to]) => {
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
 * Shortens edges that are stretched beyond a limit, in place, each by moving its free ends toward each other (one pass
 * of position based constraints).
 * @param edges pairs of vertices. @param most ratio to the rest length. @returns how many were beyond it.
 */
export function shortenEdges(
  P: Float32Array,
  rest: Float32Array,
  edges: Uint32Array,
  most: number,
  freedom: Float32Array,
): number {
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
