import { blendedDual3, dualQuaternions } from "../deform/skinDual";
import type { SkinBinding } from "../model/character";
import type { Neighbours } from "../model/neighbours";

/**
 * How each vertex lies off the mean of its neighbours at rest, turned as its own skin turns in a pose (the turn of the
 * blended dual quaternion, Kavan et al. 2007): what keeps the surface's detail while it is smoothed (rest offsets as in
 * "delta mush", Mancewicz, Derksen, Rijpkema & Wilson 2014).
 * @param bound places in bind space. @param vertices those that are asked for. @param matrices 16 x jointCount.
 * @returns 3 x vertexCount, metres.
 */
export function turnedOffsets(
  bound: Float32Array,
  skin: SkinBinding,
  matrices: ArrayLike<number>,
  vertices: Iterable<number>,
  { start, list }: Neighbours,
): Float32Array {
  const out = new Float32Array(bound.length);
  const dual = dualQuaternions(matrices);
  const m = new Float64Array(9);
  const d: [number, number, number] = [0, 0, 0];
  for (const v of vertices) {
    const count = start[v + 1]! - start[v]!;
    if (count === 0) continue;
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      for (let k = start[v]!; k < start[v + 1]!; k++) sum += bound[3 * list[k]! + c]!;
      d[c] = bound[3 * v + c]! - sum / count;
    }
    blendedDual3(skin, dual, v, m);
    for (let c = 0; c < 3; c++) out[3 * v + c] = m[c]! * d[0] + m[3 + c]! * d[1] + m[6 + c]! * d[2];
  }
  return out;
}

/**
 * Moves vertices part of the way to where their neighbours and their own offset want them, all at once, in place.
 * @param strength per vertex, 0..1. @param next room of the size of P.
 */
export function relaxOnce(
  P: Float32Array,
  offsets: Float32Array,
  vertices: Uint32Array,
  strength: Float32Array,
  { start, list }: Neighbours,
  next: Float32Array,
): void {
  for (const v of vertices) {
    const [from, to] = [start[v]!, start[v + 1]!];
    for (let c = 0; c < 3; c++) {
      const i = 3 * v + c;
      let sum = 0;
      for (let k = from; k < to; k++) sum += P[3 * list[k]! + c]!;
      next[i] = from === to ? P[i]! : P[i]! + strength[v]! * (sum / (to - from) + offsets[i]! - P[i]!);
    }
  }
  for (const v of vertices) for (let c = 0; c < 3; c++) P[3 * v + c] = next[3 * v + c]!;
}
