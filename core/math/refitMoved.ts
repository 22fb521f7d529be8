import { fitLeaf, joinBounds, refitBvh, type Bvh } from "./bvh";

interface Fitted {
  /** Places it was last fitted to. */
  readonly places: Float32Array;
  readonly moved: Uint8Array;
  readonly stale: Uint8Array;
}
const fitted = new WeakMap<Bvh, Fitted>();

/**
 * Refits a tree to new places by what moved since it was last refitted by this function alone: most of a figure stands
 * still while one joint turns. Whoever refits it otherwise in between must not use this.
 */
export function refitMoved(bvh: Bvh, positions: Float32Array): void {
  const known = fitted.get(bvh);
  if (!known || known.places.length !== positions.length) {
    const moved = new Uint8Array(positions.length / 3);
    fitted.set(bvh, { places: positions.slice(), moved, stale: new Uint8Array(bvh.nodeCount) });
    return refitBvh(bvh, positions);
  }
  const { places, moved, stale } = known;
  let any = false;
  for (let v = 0, i = 0; v < moved.length; v++, i += 3) {
    const same = places[i] === positions[i] && places[i + 1] === positions[i + 1] && places[i + 2] === positions[i + 2];
    moved[v] = same ? 0 : 1;
    any ||= !same;
  }
  if (!any) return;
  places.set(positions);
  const { bounds, right, count, order, triangles, nodeCount } = bvh;
  for (let n = nodeCount - 1; n >= 0; n--) {
    if (right[n]! >= 0) {
      stale[n] = stale[n + 1]! | stale[right[n]!]!;
      if (stale[n]) joinBounds(bounds, 6 * n, 6 * (n + 1), 6 * right[n]!);
      continue;
    }
    stale[n] = 0;
    for (let i = -right[n]! - 1, end = i + count[n]!; i < end && !stale[n]; i++) {
      const c = 3 * order[i]!;
      stale[n] = moved[triangles[c]!]! | moved[triangles[c + 1]!]! | moved[triangles[c + 2]!]!;
    }
    if (stale[n]) fitLeaf(bvh, n, positions);
  }
}
