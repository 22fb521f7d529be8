/** Vertices mirrored at the plane x = 0. */
export const NO_MIRROR = -1;

/**
 * For every vertex the vertex nearest to its mirror image, or NO_MIRROR when none lies within `tolerance`.
 * @param positions 3 x vertexCount, rest space. @param tolerance metres.
 */
export function mirrorMap(positions: Float32Array, tolerance = 0.001): Int32Array {
  const cell = 2 * tolerance;
  const grid = new Map<string, number[]>();
  const key = (x: number, y: number, z: number): string => `${x},${y},${z}`;
  const at = (v: number): [number, number, number] => [positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!];
  const count = positions.length / 3;
  for (let v = 0; v < count; v++) {
    const [x, y, z] = at(v);
    const k = key(Math.floor(x / cell), Math.floor(y / cell), Math.floor(z / cell));
    const list = grid.get(k);
    if (list) list.push(v);
    else grid.set(k, [v]);
  }
  const out = new Int32Array(count).fill(NO_MIRROR);
  for (let v = 0; v < count; v++) {
    const [x, y, z] = at(v);
    let best = tolerance;
    const c = [Math.floor(-x / cell), Math.floor(y / cell), Math.floor(z / cell)];
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++)
          for (const w of grid.get(key(c[0]! + i, c[1]! + j, c[2]! + k)) ?? []) {
            const d = Math.hypot(positions[3 * w]! + x, positions[3 * w + 1]! - y, positions[3 * w + 2]! - z);
            if (d < best) {
              best = d;
              out[v] = w;
            }
          }
  }
  return out;
}
