import { nthSmallest } from "../math/nthSmallest";

/**
 * Posed over rest length of each edge; `edges` holds vertex pairs. Edges shorter than a micrometre at rest count as 1.
 */
export function edgeStretch(edges: Uint32Array, rest: Float32Array, posed: Float32Array): Float32Array {
  const out = new Float32Array(edges.length / 2);
  for (let e = 0; e < out.length; e++) {
    const a = 3 * edges[2 * e]!;
    const b = 3 * edges[2 * e + 1]!;
    const l0 = Math.hypot(rest[a]! - rest[b]!, rest[a + 1]! - rest[b + 1]!, rest[a + 2]! - rest[b + 2]!);
    const l1 = Math.hypot(posed[a]! - posed[b]!, posed[a + 1]! - posed[b + 1]!, posed[a + 2]! - posed[b + 2]!);
    out[e] = l0 > 1e-6 ? l1 / l0 : 1;
  }
  return out;
}

/** Which of so many sorted values has a share of them below it, from 0. */
export const nearestRank = (count: number, share: number): number =>
  Math.min(count - 1, Math.max(0, Math.ceil(share * count) - 1));

/** Value below which a share of the values lies (nearest rank); NaN for none. @param values finite. */
export const percentile = (values: ArrayLike<number>, share: number): number =>
  values.length === 0 ? NaN : nthSmallest(Float64Array.from(values), nearestRank(values.length, share));

/** Largest stretch among each vertex's edges, 1 where it has none. */
export function vertexStretch(edges: Uint32Array, stretch: Float32Array, vertexCount: number): Float32Array {
  const out = new Float32Array(vertexCount).fill(1);
  for (let e = 0; e < stretch.length; e++)
    for (const v of [edges[2 * e]!, edges[2 * e + 1]!]) if (stretch[e]! > out[v]!) out[v] = stretch[e]!;
  return out;
}
