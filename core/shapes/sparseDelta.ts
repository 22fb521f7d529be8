import type { ShapeDelta } from "../model/character";

/**
 * A movement of all of a part's vertices as a delta. @param moves 3 x vertexCount, metres. @param least shorter
 * movement is left out, metres.
 */
export function sparseDelta(part: number, moves: ArrayLike<number>, least: number): ShapeDelta {
  const vertices: number[] = [];
  const deltas: number[] = [];
  for (let v = 0; v < moves.length / 3; v++) {
    if (Math.hypot(moves[3 * v]!, moves[3 * v + 1]!, moves[3 * v + 2]!) < least) continue;
    vertices.push(v);
    deltas.push(moves[3 * v]!, moves[3 * v + 1]!, moves[3 * v + 2]!);
  }
  return { part, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) };
}
