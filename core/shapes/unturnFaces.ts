import { facesTurnedBy } from "../measure/facesTurnedBy";
import type { Part, ShapeDelta } from "../model/character";
import { neighboursOf } from "../model/neighbours";

/** Rounds of smoothing before giving up. */
const ROUNDS = 40;

/**
 * A movement with the faces that it turned over or flattened set right: the movement round them is evened out, a
 * little more each round, until none is left.
 * @returns the movement, and how many faces are still turned.
 */
export function unturnFaces(part: Part, delta: ShapeDelta): { delta: ShapeDelta; left: number } {
  let now = delta;
  let turned = facesTurnedBy(part, now);
  if (!turned.length) return { delta, left: 0 };
  const { start, list } = neighboursOf(part);
  for (let round = 0; round < ROUNDS && turned.length; round++) {
    const near = new Set(
      turned.flatMap((f) => Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!))),
    );
    for (let ring = 0; ring < 1 + round / 10; ring++)
      for (const v of [...near]) for (let k = start[v]!; k < start[v + 1]!; k++) near.add(list[k]!);
    const full = new Float32Array(part.positions.length);
    now.vertices.forEach((v, k) => full.set(now.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
    const even = full.slice();
    for (const v of near) {
      const n = start[v + 1]! - start[v]!;
      if (n === 0) continue;
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let k = start[v]!; k < start[v + 1]!; k++) sum += full[3 * list[k]! + c]!;
        even[3 * v + c] = (full[3 * v + c]! + sum / n) / 2;
      }
    }
    const vertices = [...new Set([...now.vertices, ...near])].sort((a, b) => a - b);
    now = {
      part: delta.part,
      vertices: Uint32Array.from(vertices),
      deltas: Float32Array.from(vertices.flatMap((v) => [even[3 * v]!, even[3 * v + 1]!, even[3 * v + 2]!])),
    };
    turned = facesTurnedBy(part, now);
  }
  return { delta: now, left: turned.length };
}
