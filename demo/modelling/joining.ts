import { smoothMin } from "./blend";
import { leastWithin, type Mass } from "./fields";

/** Side of the cells for which it is remembered which masses can reach into them. */
const CELL = 0.02;
const REACH = (CELL * Math.sqrt(3)) / 2;
const MOST_CELLS = 1024;
const cellOf = (v: number): number => Math.floor(v / CELL) + MOST_CELLS / 2;
const middleOf = (v: number): number => (Math.floor(v / CELL) + 0.5) * CELL;
/** What a bound may be off by rounding. */
const ROUNDING = 1e-9;

/**
 * Joins masses to a distance one after the other. Masses that cannot matter at a place are left out: the result is the
 * same to the last bit. Metres, within 10 m of the origin.
 */
export function joining(masses: readonly Mass[]): (distance: number, x: number, y: number, z: number) => number {
  const forms = masses.map(([form]) => form);
  const seams = masses.map(([, seam]) => seam);
  const known = new Map<number, Float64Array>();
  const boundsAt = (x: number, y: number, z: number): Float64Array =>
    Float64Array.from(
      masses,
      ([form, seam]) =>
        (leastWithin.get(form)?.(middleOf(x), middleOf(y), middleOf(z), REACH) ?? -Infinity) - seam - ROUNDING,
    );
  let last = -1;
  let bounds: Float64Array = new Float64Array(0);
  return (distance, x, y, z) => {
    const cell = (cellOf(x) * MOST_CELLS + cellOf(y)) * MOST_CELLS + cellOf(z);
    if (cell !== last) {
      bounds = known.get(cell) ?? boundsAt(x, y, z);
      known.set(cell, bounds);
      last = cell;
    }
    let d = distance;
    for (let i = 0; i < forms.length; i++) if (bounds[i]! < d) d = smoothMin(d, forms[i]!(x, y, z), seams[i]!);
    return d;
  };
}
