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
export function noiseOf(
  delta: ShapeDelta,
  { start, list }: Neighbours,
  P: Float32Array,
): { vertex: number; mm: number }[] {
  const { moves, off } = offsOf(delta, { start, list });
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
  return out;
}

/**
 * By vertex its movement, and what it is off by: its movement less the mean of its neighbours'; 3 x vertexCount each,
 * metres.
 */
function offsOf(
  { vertices, deltas }: ShapeDelta,
  { start, list }: Neighbours,
): { readonly moves: Float64Array; readonly off: Float64Array } {
  const count = start.length - 1;
  const moves = new Float64Array(3 * count);
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const at = 3 * vertices[k]!;
    moves[at] = deltas[i]!;
    moves[at + 1] = deltas[i + 1]!;
    moves[at + 2] = deltas[i + 2]!;
  }
  const off = new Float64Array(3 * count);
  const near = new Uint8Array(count);
  for (const v of vertices) {
    near[v] = 1;
    for (let i = start[v]!, end = start[v + 1]!; i < end; i++) near[list[i]!] = 1;
  }
  for (let v = 0; v < count; v++) {
    if (near[v] === 0) continue;
    const [from, end] = [start[v]!, start[v + 1]!];
    let x = 0;
    let y = 0;
    let z = 0;
    for (let i = from; i < end; i++) {
      const at = 3 * list[i]!;
      x += moves[at]!;
      y += moves[at + 1]!;
      z += moves[at + 2]!;
    }
    if (end === from) continue;
    off[3 * v] = moves[3 * v]! - x / (end - from);
    off[3 * v + 1] = moves[3 * v + 1]! - y / (end - from);
    off[3 * v + 2] = moves[3 * v + 2]! - z / (end - from);
  }
  return { moves, off };
}
