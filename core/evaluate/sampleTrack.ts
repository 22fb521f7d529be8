import { slerp } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import type { ClipTrack, WeightTrack } from "../model/character";

/**
 * A track at a moment: rotations as xyzw on the shorter way (slerp), translations as metres. Before the first and after
 * the last key it stands still. Cubic splines as in the glTF 2.0 specification, appendix C: p(t) of the values and of
 * the tangents times the length of the stretch; rotations are made unit length again by whoever reads them.
 */
export function sampleTrack(track: ClipTrack, seconds: number): Quat | Vec3 {
  const { times, values, interpolation, path } = track;
  const width = path === "rotation" ? 4 : 3;
  const cubic = interpolation === "CUBICSPLINE";
  const step = cubic ? 3 * width : width;
  const at = (key: number, part: 0 | 1 | 2): number[] => {
    const from = key * step + (cubic ? part * width : 0);
    return Array.from({ length: width }, (_, i) => values[from + i]!);
  };
  const k = keyBefore(times, seconds);
  if (k === times.length - 1 || seconds <= times[0]! || interpolation === "STEP") return at(k, 1) as unknown as Vec3;
  const length = times[k + 1]! - times[k]!;
  const t = (seconds - times[k]!) / length;
  if (cubic) {
    const [t2, t3] = [t * t, t * t * t];
    const [v0, out0, in1, v1] = [at(k, 1), at(k, 2), at(k + 1, 0), at(k + 1, 1)];
    const [a, b, c, d] = [2 * t3 - 3 * t2 + 1, length * (t3 - 2 * t2 + t), 3 * t2 - 2 * t3, length * (t3 - t2)];
    return v0.map((x, i) => a * x + b * out0[i]! + c * v1[i]! + d * in1[i]!) as unknown as Vec3;
  }
  const [from, to] = [at(k, 1), at(k + 1, 1)];
  if (width === 4) return slerp(from as unknown as Quat, to as unknown as Quat, t);
  return from.map((x, i) => x + (to[i]! - x) * t) as unknown as Vec3;
}

/** A shape's weight at a moment; before the first and after the last key it stands still. */
export function sampleWeight({ times, values, interpolation }: WeightTrack, seconds: number): number {
  if (times.length === 0) return 0;
  const k = keyBefore(times, seconds);
  if (k === times.length - 1 || seconds <= times[0]! || interpolation === "STEP") return values[k]!;
  const t = (seconds - times[k]!) / (times[k + 1]! - times[k]!);
  return values[k]! + t * (values[k + 1]! - values[k]!);
}

/** Index of the last key at or before a moment; 0 before the first. */
function keyBefore(times: Float32Array, seconds: number): number {
  let [low, high] = [0, times.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (times[middle]! <= seconds) low = middle;
    else high = middle - 1;
  }
  return low;
}
