import { keysNeeded } from "../math/keysNeeded";
import type { WeightTrack } from "../model/character";

/** Weights closer to the straight way than this are left out as keys. */
const CLOSE = 0.002;

/** A curve with the keys that it needs. */
export function thinned(shape: string, times: Float32Array, values: Float32Array): WeightTrack {
  const keys = keysNeeded(times, values, CLOSE);
  return {
    shape,
    interpolation: "LINEAR",
    times: Float32Array.from(keys, (k) => times[k]!),
    values: Float32Array.from(keys, (k) => values[k]!),
  };
}
