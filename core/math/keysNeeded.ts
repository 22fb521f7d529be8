/**
 * Indices of the keys that a curve needs so that straight lines between them stay within a tolerance of it (Ramer 1972,
 * Douglas & Peucker 1973, by the height above the chord).
 * @param values count x width. @param tolerance most that any of the width numbers may be off at any of the times.
 */
export function keysNeeded(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  tolerance: number,
  width = 1,
): Uint32Array {
  const count = times.length;
  if (count === 0) return new Uint32Array(0);
  const kept = new Uint8Array(count);
  kept[0] = kept[count - 1] = 1;
  const open: [number, number][] = [[0, count - 1]];
  for (let span = open.pop(); span; span = open.pop()) {
    const [a, b] = span;
    let [worst, at] = [tolerance, -1];
    const long = times[b]! - times[a]!;
    for (let k = a + 1; k < b; k++) {
      const t = long > 0 ? (times[k]! - times[a]!) / long : 0;
      for (let c = 0; c < width; c++) {
        const off = Math.abs(values[k * width + c]! - (1 - t) * values[a * width + c]! - t * values[b * width + c]!);
        if (off > worst) [worst, at] = [off, k];
      }
    }
    if (at < 0) continue;
    kept[at] = 1;
    open.push([a, at], [at, b]);
  }
  const out: number[] = [];
  for (let k = 0; k < count; k++) if (kept[k]) out.push(k);
  return Uint32Array.from(out);
}
