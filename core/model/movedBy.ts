import type { Part, ShapeDelta } from "./character";

/** Positions of a part with a movement at full, bind space, and which vertices it touches. */
export function movedBy(part: Part, delta: ShapeDelta): { moved: Float32Array; touched: Uint8Array } {
  const moved = part.positions.slice();
  const touched = new Uint8Array(moved.length / 3);
  delta.vertices.forEach((v, k) => {
    touched[v] = 1;
    for (let c = 0; c < 3; c++) moved[3 * v + c]! += delta.deltas[3 * k + c]!;
  });
  return { moved, touched };
}
