import { facesTurnedBy } from "../../core/measure/facesTurnedBy";
import type { Part, ShapeDelta } from "../../core/model/character";
import { neighboursOf, type Neighbours } from "../../core/model/neighbours";

const ROUNDS = 300;
/** Rounds from which one more ring of vertices takes part. */
const WIDER = [12, 40, 90];

/**
 * Evens out a movement where it turns faces over: the corners of those faces take on half of their neighbours' mean
 * movement, again and again until no face is turned. Everything else stays as it was sculpted.
 */
export function unfoldShape(part: Part, delta: ShapeDelta, neighbours: Neighbours = neighboursOf(part)): ShapeDelta {
  if (facesTurnedBy(part, delta).length === 0) return delta;
  const dense = new Float32Array(part.positions.length);
  delta.vertices.forEach((v, k) => dense.set(delta.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  for (let round = 0; round < ROUNDS; round++) {
    const faces = facesTurnedBy(part, sparse(delta.part, dense));
    if (faces.length === 0) break;
    const corners = new Set(
      faces.flatMap((f) => Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!))),
    );
    // the rings around a stubborn face give way too
    for (const since of WIDER)
      if (round >= since)
        for (const v of [...corners])
          for (let n = neighbours.start[v]!; n < neighbours.start[v + 1]!; n++) corners.add(neighbours.list[n]!);
    const before = dense.slice();
    for (const v of corners) {
      const from = neighbours.start[v]!;
      const to = neighbours.start[v + 1]!;
      for (let c = 0; c < 3; c++) {
        let mean = 0;
        for (let n = from; n < to; n++) mean += before[3 * neighbours.list[n]! + c]!;
        if (to > from) dense[3 * v + c] = 0.5 * before[3 * v + c]! + (0.5 * mean) / (to - from);
      }
    }
  }
  return sparse(delta.part, dense);
}

function sparse(part: number, dense: Float32Array): ShapeDelta {
  const vertices: number[] = [];
  for (let v = 0; v < dense.length / 3; v++)
    if (dense[3 * v] !== 0 || dense[3 * v + 1] !== 0 || dense[3 * v + 2] !== 0) vertices.push(v);
  const deltas = new Float32Array(3 * vertices.length);
  vertices.forEach((v, k) => deltas.set(dense.subarray(3 * v, 3 * v + 3), 3 * k));
  return { part, vertices: Uint32Array.from(vertices), deltas };
}
