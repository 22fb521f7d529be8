import { buildBvh, castRay, rayThroughLeaf, type Bvh, type RayVisit } from "../math/bvh";

/** Edges of a mesh, near ones together: what is far from a whole group is passed over at once. */
export interface EdgeGroups {
  /** Pairs of vertices. */
  readonly edges: Uint32Array;
  /** First edge of each group, and the end. */
  readonly starts: Uint32Array;
}

/** @param edges pairs of vertices. @param positions by which they are grouped, 3 x vertexCount. */
export function groupEdges(edges: readonly (readonly [number, number])[], positions: Float32Array): EdgeGroups {
  // edges as triangles without width: the leaves of their tree are the groups
  const tree = buildBvh(Uint32Array.from(edges.flatMap(([a, b]) => [a, b, b])), positions);
  const out: number[] = [];
  const starts = [0];
  for (let n = 0; n < tree.nodeCount; n++) {
    if (tree.right[n]! >= 0) continue;
    for (let i = -tree.right[n]! - 1, end = i + tree.count[n]!; i < end; i++) out.push(...edges[tree.order[i]!]!);
    starts.push(out.length / 2);
  }
  return { edges: Uint32Array.from(out), starts: Uint32Array.from(starts) };
}

const stack = new Int32Array(256);
const leaves = new Int32Array(4096);

/** Leaves whose boxes meet a box, written to `leaves`. @returns how many; -1 when there are too many to be kept. */
function leavesMeeting(
  { bounds, right, nodeCount }: Bvh,
  x0: number,
  y0: number,
  z0: number,
  x1: number,
  y1: number,
  z1: number,
): number {
  if (nodeCount === 0) return 0;
  let found = 0;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const n = stack[--top]!;
    const b = 6 * n;
    if (
      bounds[b]! > x1 ||
      bounds[b + 3]! < x0 ||
      bounds[b + 1]! > y1 ||
      bounds[b + 4]! < y0 ||
      bounds[b + 2]! > z1 ||
      bounds[b + 5]! < z0
    )
      continue;
    if (right[n]! >= 0) {
      stack[top++] = right[n]!;
      stack[top++] = n + 1;
    } else if (found === leaves.length) return -1;
    else leaves[found++] = n;
  }
  return found;
}

/**
 * Visits every triangle that an edge crosses: the same as a ray from the first vertex to the second, for all edges.
 * @param positions of the edges' vertices. @param P of the tree's vertices; its bounds must fit them.
 */
export function castEdges(
  bvh: Bvh,
  P: Float32Array,
  { edges, starts }: EdgeGroups,
  positions: Float32Array,
  visit: (a: number, b: number, length: number, distance: number, sign: 1 | -1) => void,
): void {
  const { bounds } = bvh;
  for (let g = 0; g + 1 < starts.length; g++) {
    let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
    for (let i = 2 * starts[g]!; i < 2 * starts[g + 1]!; i++) {
      const v = 3 * edges[i]!;
      const [x, y, z] = [positions[v]!, positions[v + 1]!, positions[v + 2]!];
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
      if (z < z0) z0 = z;
      if (z > z1) z1 = z;
    }
    const found = leavesMeeting(bvh, x0, y0, z0, x1, y1, z1);
    if (found === 0) continue;
    for (let e = starts[g]!; e < starts[g + 1]!; e++) {
      const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
      const [ax, ay, az] = [positions[3 * a]!, positions[3 * a + 1]!, positions[3 * a + 2]!];
      const [bx, by, bz] = [positions[3 * b]!, positions[3 * b + 1]!, positions[3 * b + 2]!];
      const l = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2 + (bz - az) ** 2);
      if (l < 1e-9) continue;
      const told: RayVisit = (_, distance, sign) => visit(a, b, l, distance, sign);
      const [dx, dy, dz] = [(bx - ax) / l, (by - ay) / l, (bz - az) / l];
      if (found < 0) {
        castRay(bvh, P, ax, ay, az, dx, dy, dz, told, l);
        continue;
      }
      for (let k = 0; k < found; k++) {
        const n = 6 * leaves[k]!;
        if (
          (ax < bounds[n]! && bx < bounds[n]!) ||
          (ax > bounds[n + 3]! && bx > bounds[n + 3]!) ||
          (ay < bounds[n + 1]! && by < bounds[n + 1]!) ||
          (ay > bounds[n + 4]! && by > bounds[n + 4]!) ||
          (az < bounds[n + 2]! && bz < bounds[n + 2]!) ||
          (az > bounds[n + 5]! && bz > bounds[n + 5]!)
        )
          continue;
        rayThroughLeaf(bvh, leaves[k]!, P, ax, ay, az, dx, dy, dz, told, l);
      }
    }
  }
}
