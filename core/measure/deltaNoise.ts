import type { ShapeDelta } from "../model/character";
import type { Neighbours } from "../model/neighbours";

/** Vertices that move less than this take no part, metres. */
const STILL = 1e-4;
/** Spacing of vertices up to which the limit holds as it stands, metres. */
const FINE = 0.008;
/**
 * Noise of a movement, mm per moving vertex. A vertex is off by its movement less the mean of its neighbours'; a crease
 * or a lip's edge makes whole rows of vertices off the same way, noise makes neighbours off in opposite ways. Only the
 * part against the neighbours counts. A smooth movement's difference from its neighbours' mean grows with the square of
 * their distance: wider meshes are forgiven by that much. Rejected: the plain difference from the neighbours' mean,
 * which cannot tell the brow's wrinkles (1.3 mm here) from noise.
 */
export function noiseOf(delta: ShapeDelta, neighbours: Neighbours, P: Float32Array): { vertex: number; mm: number }[] {
  const { start, list } = neighbours;
  const room = roomFor(neighbours);
  const filled = fill(room, delta, neighbours);
  const { moves, off } = room;
  const { vertices } = delta;
  const out: { vertex: number; mm: number }[] = [];
  for (const v of vertices) {
    const o = 3 * v;
    if (moves[o]! * moves[o]! + moves[o + 1]! * moves[o + 1]! + moves[o + 2]! * moves[o + 2]! < STILL * STILL) continue;
    const [from, end] = [start[v]!, start[v + 1]!];
    const own = Math.sqrt(off[o]! * off[o]! + off[o + 1]! * off[o + 1]! + off[o + 2]! * off[o + 2]!);
    let along = 0;
    let apart = 0;
    for (let i = from; i < end; i++) {
      const at = 3 * list[i]!;
      along += off[o]! * off[at]! + off[o + 1]! * off[at + 1]! + off[o + 2]! * off[at + 2]!;
      const x = P[at]! - P[o]!;
      const y = P[at + 1]! - P[o + 1]!;
      const z = P[at + 2]! - P[o + 2]!;
      apart += Math.sqrt(x * x + y * y + z * z);
    }
    along = end > from ? along / (end - from) : own * own;
    apart /= Math.max(1, end - from);
    const forgiven = Math.min(1, (FINE / Math.max(1e-9, apart)) ** 2);
    out.push({ vertex: v, mm: own > 0 && along < 0 ? 1000 * forgiven * Math.min(own, -along / own) : 0 });
  }
  empty(room, filled);
  return out;
}

interface Room {
  /** By vertex its movement, and that less the mean of its neighbours'; 3 x vertexCount each, metres. */
  readonly moves: Float64Array;
  readonly off: Float64Array;
  readonly near: Uint8Array;
}
const rooms = new WeakMap<Neighbours, Room>();

function roomFor(neighbours: Neighbours): Room {
  const known = rooms.get(neighbours);
  if (known) return known;
  const count = neighbours.start.length - 1;
  const made = { moves: new Float64Array(3 * count), off: new Float64Array(3 * count), near: new Uint8Array(count) };
  rooms.set(neighbours, made);
  return made;
}

/** Fills the room for a movement. @returns the vertices that it was filled at: all that moves and what lies beside. */
function fill({ moves, off, near }: Room, { vertices, deltas }: ShapeDelta, { start, list }: Neighbours): number[] {
  const at: number[] = [];
  const take = (v: number): void => {
    if (near[v]) return;
    near[v] = 1;
    at.push(v);
  };
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const v = vertices[k]!;
    moves[3 * v] = deltas[i]!;
    moves[3 * v + 1] = deltas[i + 1]!;
    moves[3 * v + 2] = deltas[i + 2]!;
    take(v);
    for (let n = start[v]!, end = start[v + 1]!; n < end; n++) take(list[n]!);
  }
  for (const v of at) {
    const [from, end] = [start[v]!, start[v + 1]!];
    let x = 0;
    let y = 0;
    let z = 0;
    for (let i = from; i < end; i++) {
      const o = 3 * list[i]!;
      x += moves[o]!;
      y += moves[o + 1]!;
      z += moves[o + 2]!;
    }
    if (end === from) continue;
    off[3 * v] = moves[3 * v]! - x / (end - from);
    off[3 * v + 1] = moves[3 * v + 1]! - y / (end - from);
    off[3 * v + 2] = moves[3 * v + 2]! - z / (end - from);
  }
  return at;
}

function empty({ moves, off, near }: Room, at: readonly number[]): void {
  for (const v of at) {
    near[v] = 0;
    for (let i = 3 * v; i < 3 * v + 3; i++) moves[i] = off[i] = 0;
  }
}
