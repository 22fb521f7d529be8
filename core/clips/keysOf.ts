import type { ClipTrack } from "../model/character";

/** Keys of a track as rows; cubic splines carry tangents before and after each value. */
export function keysOf(track: ClipTrack): { count: number; width: number; at: (key: number) => ArrayLike<number> } {
  const width = track.path === "rotation" ? 4 : 3;
  const step = track.interpolation === "CUBICSPLINE" ? 3 * width : width;
  const skip = track.interpolation === "CUBICSPLINE" ? width : 0;
  return {
    count: track.times.length,
    width,
    at: (key) => track.values.subarray(key * step + skip, key * step + skip + width),
  };
}
