import type { ShapeDelta } from "../model/character";
import type { Neighbours } from "../model/neighbours";

/**
 * A movement with what alternates from vertex to vertex taken out: each goes towards its neighbours' mean, `passes`
 * times (uniform Laplacian smoothing of the
 * movement, not of the surface: the base's own detail stays). Vertices that did not move do not begin to.
 * @param neighbours of the delta's part. @param strength share of the neighbours' mean against the vertex's own, 1 for
 * half-way; any strength is stable.
 */
export function smoothDelta(delta: ShapeDelta, { start, list }: Neighbours, passes: number, strength = 1): ShapeDelta {
  let now = new Float32Array(3 * (start.length - 1));
  delta.vertices.forEach((v, k) => now.set(delta.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  for (let pass = 0; pass < passes; pass++) {
    const next = now.slice();
    for (const v of delta.vertices) {
      const [from, to] = [start[v]!, start[v + 1]!];
      if (from === to) continue;
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let k = from; k < to; k++) sum += now[3 * list[k]! + c]!;
        next[3 * v + c] = (now[3 * v + c]! + (strength * sum) / (to - from)) / (1 + strength);
      }
    }
    now = next;
  }
  return {
    part: delta.part,
    vertices: delta.vertices,
    deltas: Float32Array.from(
      Array.from(delta.vertices).flatMap((v) => [now[3 * v]!, now[3 * v + 1]!, now[3 * v + 2]!]),
    ),
  };
}
