import { addPoint, makePointGrid, slotOf } from "./pointGrid";

/** Vertices mirrored at the plane x = 0. */
export const NO_MIRROR = -1;

const known = new WeakMap<Float32Array, Map<number, Int32Array>>();
/**
 * For every vertex the vertex nearest to its mirror image, or NO_MIRROR when none lies within `tolerance`. Found once
 * for a table of positions, which must not change.
 * @param positions 3 x vertexCount, rest space. @param tolerance metres.
 */
export function mirrorMap(positions: Float32Array, tolerance = 0.001): Int32Array {
  const ofPositions = known.get(positions) ?? known.set(positions, new Map()).get(positions)!;
  const map = ofPositions.get(tolerance) ?? findMirrored(positions, tolerance);
  ofPositions.set(tolerance, map);
  return map;
}

function findMirrored(positions: Float32Array, tolerance: number): Int32Array {
  const count = positions.length / 3;
  const grid = makePointGrid(count, 2 * tolerance);
  const cellOf = (x: number): number => Math.floor(x / grid.cell);
  for (let v = count - 1; v >= 0; v--)
    addPoint(
      grid,
      slotOf(grid, cellOf(positions[3 * v]!), cellOf(positions[3 * v + 1]!), cellOf(positions[3 * v + 2]!)),
      v,
    );
  const out = new Int32Array(count).fill(NO_MIRROR);
  const near = (v: number): void => {
    const x = -positions[3 * v]!;
    const y = positions[3 * v + 1]!;
    const z = positions[3 * v + 2]!;
    let best = tolerance;
    // the sphere of the tolerance reaches into at most two cells along each axis
    for (let i = cellOf(x - tolerance); i <= cellOf(x + tolerance); i++)
      for (let j = cellOf(y - tolerance); j <= cellOf(y + tolerance); j++)
        for (let k = cellOf(z - tolerance); k <= cellOf(z + tolerance); k++)
          for (let w = grid.heads[slotOf(grid, i, j, k)]!; w >= 0; w = grid.next[w]!) {
            const d = Math.hypot(positions[3 * w]! - x, positions[3 * w + 1]! - y, positions[3 * w + 2]! - z);
            if (d < best || (d === best && out[v]! > w)) {
              best = d;
              out[v] = w;
            }
          }
  };
  for (let v = 0; v < count; v++) near(v);
  return out;
}
