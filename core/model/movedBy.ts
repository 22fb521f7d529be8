import type { Part, Shape, ShapeDelta } from "./character";

/** Positions of a part with a movement at full, bind space, and which vertices it touches. */
export function movedBy(part: Part, delta: ShapeDelta): { moved: Float32Array; touched: Uint8Array } {
  const moved = part.positions.slice();
  const touched = new Uint8Array(moved.length / 3);
  addMovement(delta, moved, touched);
  return { moved, touched };
}

function addMovement({ vertices, deltas }: ShapeDelta, moved: Float32Array, touched: Uint8Array): void {
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const v = vertices[k]!;
    touched[v] = 1;
    moved[3 * v]! += deltas[i]!;
    moved[3 * v + 1]! += deltas[i + 1]!;
    moved[3 * v + 2]! += deltas[i + 2]!;
  }
}

interface Room {
  readonly moved: Float32Array;
  readonly touched: Uint8Array;
  used: boolean;
}
const rooms = new WeakMap<Part, Room>();

/**
 * What is found while a movement is at full, as from `movedBy`, in arrays that are used again and again: only what
 * moves is written and taken back. `use` must keep nothing of them.
 */
export function whileMoved<T>(part: Part, delta: ShapeDelta, use: (moved: Float32Array, touched: Uint8Array) => T): T {
  const known = rooms.get(part);
  const room = known?.used === false ? known : { moved: part.positions.slice(), touched: touchedOf(part), used: false };
  if (!known) rooms.set(part, room);
  const { moved, touched } = room;
  room.used = true;
  try {
    addMovement(delta, moved, touched);
    return use(moved, touched);
  } finally {
    const { positions } = part;
    for (const v of delta.vertices) {
      touched[v] = 0;
      moved[3 * v] = positions[3 * v]!;
      moved[3 * v + 1] = positions[3 * v + 1]!;
      moved[3 * v + 2] = positions[3 * v + 2]!;
    }
    room.used = false;
  }
}
const touchedOf = (part: Part): Uint8Array => new Uint8Array(part.positions.length / 3);

/** The same for all parts of a shape at full: `use` gets the positions of every part, those it leaves as they are. */
export function whileShaped<T>(
  parts: readonly Part[],
  { deltas }: Pick<Shape, "deltas">,
  use: (positions: readonly Float32Array[]) => T,
): T {
  const positions = parts.map((p) => p.positions);
  const at = (k: number): T => {
    const delta = deltas[k];
    if (!delta) return use(positions);
    return whileMoved(parts[delta.part]!, delta, (moved) => {
      positions[delta.part] = moved;
      return at(k + 1);
    });
  };
  return at(0);
}
