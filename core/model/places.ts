/**
 * Groups vertices that lie at the same place (within `tolerance` metres on a grid, neighbours included only when exact keys match).
 * @returns for each vertex the lowest vertex index at its place.
 */
export function placesOf(positions: Float32Array, tolerance = 1e-6): Uint32Array {
  const out = new Uint32Array(positions.length / 3);
  const seen = new Map<string, number>();
  const q = (x: number): number => Math.round(x / tolerance) + 0;
  for (let v = 0; v < out.length; v++) {
    const key = `${q(positions[3 * v]!)},${q(positions[3 * v + 1]!)},${q(positions[3 * v + 2]!)}`;
    const first = seen.get(key);
    if (first === undefined) seen.set(key, v);
    out[v] = first ?? v;
  }
  return out;
}
