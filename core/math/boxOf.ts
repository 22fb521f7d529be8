import type { Vec3 } from "./vec3";

/**
 * Middle and size of the box round some points, three numbers each, in their own unit and space; both zero without
 * points.
 */
export function boxOf(P: Float32Array): { middle: Vec3; size: Vec3 } {
  if (P.length === 0) return { middle: [0, 0, 0], size: [0, 0, 0] };
  const lo: [number, number, number] = [Infinity, Infinity, Infinity];
  const hi: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < P.length; i++) {
    lo[i % 3] = Math.min(lo[i % 3]!, P[i]!);
    hi[i % 3] = Math.max(hi[i % 3]!, P[i]!);
  }
  return {
    middle: [(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2],
    size: [hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]],
  };
}
