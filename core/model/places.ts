import { addPoint, makePointGrid, slotOf } from "./pointGrid";

/**
 * Groups vertices that lie at the same place (equal after rounding to `tolerance` metres).
 * @returns for each vertex the lowest vertex index at its place.
 */
export function placesOf(positions: Float32Array, tolerance = 1e-6): Uint32Array {
  const out = new Uint32Array(positions.length / 3);
  const grid = makePointGrid(out.length, tolerance);
  const q = (i: number): number => Math.round(positions[i]! / tolerance);
  for (let v = 0, i = 0; v < out.length; v++, i += 3) {
    const x = q(i);
    const y = q(i + 1);
    const z = q(i + 2);
    const slot = slotOf(grid, x, y, z);
    let first = v;
    // only the first vertex of each place is in the grid
    for (let w = grid.heads[slot]!; w >= 0; w = grid.next[w]!)
      if (q(3 * w) === x && q(3 * w + 1) === y && q(3 * w + 2) === z) {
        first = w;
        break;
      }
    out[v] = first;
    if (first === v) addPoint(grid, slot, v);
  }
  return out;
}
