import { vertexCountOf, type Part, type SkinBinding } from "../model/character";

/** Weights as a table, jointCount numbers a vertex. */
export function denseWeights(part: Part, jointCount: number): Float32Array {
  const out = new Float32Array(vertexCountOf(part) * jointCount);
  const { skin } = part;
  if (skin)
    for (let v = 0, n = 0; v < vertexCountOf(part); v++)
      for (let k = 0; k < skin.influenceCount; k++, n++) out[v * jointCount + skin.joints[n]!]! += skin.weights[n]!;
  return out;
}

/** Shares below this are dropped when a table is packed. */
const LEAST = 1e-4;

/**
 * The heaviest `most` joints of each vertex, heaviest first and the lower joint first of equals, scaled to a sum of 1.
 * A vertex without weight stays without.
 */
export function packWeights(
  dense: Float32Array,
  jointCount: number,
  most: number,
  inverseBinds: Float32Array | null,
): SkinBinding {
  const count = dense.length / jointCount;
  const joints = new Uint16Array(count * most);
  const weights = new Float32Array(count * most);
  for (let v = 0; v < count; v++) {
    const held: number[] = [];
    for (let j = 0; j < jointCount; j++) if (dense[v * jointCount + j]! > LEAST) held.push(j);
    held.sort((a, b) => dense[v * jointCount + b]! - dense[v * jointCount + a]! || a - b);
    const kept = held.slice(0, most);
    const total = kept.reduce((sum, j) => sum + dense[v * jointCount + j]!, 0);
    kept.forEach((j, k) => {
      joints[v * most + k] = j;
      weights[v * most + k] = dense[v * jointCount + j]! / total;
    });
  }
  return { influenceCount: most, joints, weights, inverseBinds };
}

/**
 * Brings one vertex's row to a sum of 1 by scaling joints that are not locked; when only locked ones hold it, they are
 * scaled. In place.
 */
export function renormalize(dense: Float32Array, jointCount: number, v: number, locked: Uint8Array): void {
  let free = 0;
  let held = 0;
  for (let j = 0; j < jointCount; j++) {
    const w = dense[v * jointCount + j]!;
    if (locked[j]) held += w;
    else free += w;
  }
  const scale = free > 0 ? Math.max(0, 1 - held) / free : 0;
  for (let j = 0; j < jointCount; j++) {
    const i = v * jointCount + j;
    if (free > 0 && held <= 1) {
      if (!locked[j]) dense[i]! *= scale;
    } else if (held > 0) dense[i]! = locked[j] ? dense[i]! / held : 0;
  }
}
