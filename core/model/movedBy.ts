import type { Part, ShapeDelta } from "./character";

/** Positions of a part with a movement at full, bind space, and which vertices it touches. */
export function movedBy(part: Part, delta: ShapeDelta): { moved: Float32Array; touched: Uint8Array } {
  const moved = part.positions.slice();
  const touched = new Uint8Array(moved.length / 3);
  const { vertices, deltas } = delta;
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const v = vertices[k]!;
    touched[v] = 1;
    moved[3 * v]! += deltas[i]!;
    moved[3 * v + 1]! += deltas[i + 1]!;
    moved[3 * v + 2]! += deltas[i + 2]!;
  }
  return { moved, touched };
}
