import type { WeightTrack } from "../model/character";

/** Weights closer to the straight way than this are left out as keys. */
const CLOSE = 0.002;

/** A curve with the keys that it needs (Ramer 1972, Douglas & Peucker 1973). */
export function thinned(shape: string, times: Float32Array, values: Float32Array): WeightTrack {
  const kept = new Set([0, times.length - 1]);
  const split = (a: number, b: number): void => {
    let [worst, at] = [CLOSE, -1];
    for (let k = a + 1; k < b; k++) {
      const t = (k - a) / (b - a);
      const off = Math.abs(values[k]! - (1 - t) * values[a]! - t * values[b]!);
      if (off > worst) [worst, at] = [off, k];
    }
    if (at < 0) return;
    kept.add(at);
    split(a, at);
    split(at, b);
  };
  split(0, times.length - 1);
  const keys = [...kept].sort((a, b) => a - b);
  return {
    shape,
    interpolation: "LINEAR",
    times: Float32Array.from(keys, (k) => times[k]!),
    values: Float32Array.from(keys, (k) => values[k]!),
  };
}
