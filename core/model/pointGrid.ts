/** Points sorted into cubic cells by a hash of the cell: chains of vertex indices in two flat arrays. */
export interface PointGrid {
  readonly cell: number;
  readonly heads: Int32Array;
  readonly next: Int32Array;
  readonly mask: number;
}

/** Slot of a cell. Different cells may share one, so a caller compares positions itself. */
export const slotOf = (grid: PointGrid, x: number, y: number, z: number): number =>
  (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & grid.mask;

/** An empty grid for `count` points. @param cell edge of a cell, metres. */
export function makePointGrid(count: number, cell: number): PointGrid {
  let size = 16;
  while (size < 2 * count) size *= 2;
  return { cell, heads: new Int32Array(size).fill(-1), next: new Int32Array(count).fill(-1), mask: size - 1 };
}

export function addPoint(grid: PointGrid, slot: number, point: number): void {
  grid.next[point] = grid.heads[slot]!;
  grid.heads[slot] = point;
}
