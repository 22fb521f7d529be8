import { fitLeaf, joinBounds, refitBvh, type Bvh } from "./bvh";

interface Fitted {
  /** Vertices of the mesh when it was fitted. */
  readonly vertexCount: number;
  /** Vertices of the tree's triangles. */
  readonly used: Uint32Array;
  /** Places it was last fitted to, of those vertices. */
  readonly places: Float32Array;
  /** The leaves that hold a triangle of used[k] are leaves[start[k]] .. leaves[start[k + 1]]. */
  readonly start: Uint32Array;
  readonly leaves: Uint32Array;
  /** By node, the one above it. */
  readonly above: Int32Array;
  readonly stale: Uint8Array;
}
const fitted = new WeakMap<Bvh, Fitted>();

/**
 * Refits a tree to new places by what moved since it was last refitted by this function alone: most of a figure stands
 * still while one joint turns. Whoever refits it otherwise in between must not use this.
 */
export function refitMoved(bvh: Bvh, positions: Float32Array): void {
  const known = fitted.get(bvh);
  if (!known || known.vertexCount !== positions.length / 3) {
    fitted.set(bvh, tablesOf(bvh, positions));
    return refitBvh(bvh, positions);
  }
  const { used, places, start, leaves, above, stale } = known;
  let [first, last] = [stale.length, -1];
  for (let k = 0, i = 0; k < used.length; k++, i += 3) {
    const at = 3 * used[k]!;
    const x = positions[at]!;
    const y = positions[at + 1]!;
    const z = positions[at + 2]!;
    if (places[i] === x && places[i + 1] === y && places[i + 2] === z) continue;
    places[i] = x;
    places[i + 1] = y;
    places[i + 2] = z;
    for (let l = start[k]!; l < start[k + 1]!; l++)
      for (let n = leaves[l]!; n >= 0 && stale[n] === 0; n = above[n]!) {
        stale[n] = 1;
        if (n < first) first = n;
        if (n > last) last = n;
      }
  }
  const { bounds, right } = bvh;
  // children come after what is above them
  for (let n = last; n >= first; n--) {
    if (stale[n] === 0) continue;
    stale[n] = 0;
    if (right[n]! < 0) fitLeaf(bvh, n, positions);
    else joinBounds(bounds, 6 * n, 6 * (n + 1), 6 * right[n]!);
  }
}

function tablesOf({ triangles, right, count, order, nodeCount }: Bvh, positions: Float32Array): Fitted {
  const used = Uint32Array.from(new Set(triangles)).sort();
  const indexOf = new Uint32Array(positions.length / 3);
  used.forEach((v, k) => (indexOf[v] = k));
  const above = new Int32Array(nodeCount).fill(-1);
  const held = Array.from({ length: used.length }, (): number[] => []);
  for (let n = 0; n < nodeCount; n++) {
    if (right[n]! >= 0) {
      above[n + 1] = above[right[n]!] = n;
      continue;
    }
    for (let i = -right[n]! - 1, end = i + count[n]!; i < end; i++)
      for (let c = 3 * order[i]!, e = c + 3; c < e; c++) {
        const own = held[indexOf[triangles[c]!]!]!;
        if (own.at(-1) !== n) own.push(n);
      }
  }
  const start = new Uint32Array(used.length + 1);
  held.forEach((own, k) => (start[k + 1] = start[k]! + own.length));
  return {
    vertexCount: positions.length / 3,
    used,
    places: Float32Array.from({ length: 3 * used.length }, (_, i) => positions[3 * used[(i / 3) | 0]! + (i % 3)]!),
    start,
    leaves: Uint32Array.from(held.flat()),
    above,
    stale: new Uint8Array(nodeCount),
  };
}
