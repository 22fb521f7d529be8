import { buildBvh, type Bvh } from "../math/bvh";

const known = new WeakMap<Float32Array, WeakMap<Uint32Array, Bvh>>();

/**
 * A tree over triangles where they rest, made once for them. It is shared: whoever refits it takes a copy first
 * (`ownTree`).
 */
export function restTree(triangles: Uint32Array, positions: Float32Array): Bvh {
  const trees = known.get(positions) ?? new WeakMap<Uint32Array, Bvh>();
  known.set(positions, trees);
  const found = trees.get(triangles) ?? buildBvh(triangles, positions);
  trees.set(triangles, found);
  return found;
}

/** The same tree with bounds of its own, to be refitted. */
export const ownTree = (tree: Bvh): Bvh => ({ ...tree, bounds: tree.bounds.slice() });

/** A tree over those triangles alone that have a corner in a box. @param lo, hi its corners, metres. */
export function treeWithin(
  triangles: Uint32Array,
  positions: Float32Array,
  lo: readonly number[],
  hi: readonly number[],
): Bvh {
  const inside = (v: number): boolean => {
    for (let c = 0; c < 3; c++) if (positions[3 * v + c]! < lo[c]! || positions[3 * v + c]! > hi[c]!) return false;
    return true;
  };
  const kept: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    if (inside(a) || inside(b) || inside(c)) kept.push(a, b, c);
  }
  return buildBvh(Uint32Array.from(kept), positions);
}
