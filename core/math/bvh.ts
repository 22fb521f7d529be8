/**
 * Bounding volume tree over triangles that move: built once for a topology, refitted for each set of positions.
 *
 * Layout: node n has bounds[6n..6n+5] = min xyz, max xyz. Inner node: left child n+1, right child `right[n]`.
 * Leaf: right[n] = -(start+1), count[n] triangles in `order` from start. Children always come after their parent,
 * so a refit is one backward pass.
 */
export interface Bvh {
  readonly triangles: Uint32Array;
  readonly order: Uint32Array;
  readonly bounds: Float32Array;
  readonly right: Int32Array;
  readonly count: Uint16Array;
  readonly nodeCount: number;
}

const LEAF_SIZE = 6;

/** @param triangles 3 x triangleCount vertex indices. @param positions 3 x vertexCount, any one space. */
export function buildBvh(triangles: Uint32Array, positions: Float32Array): Bvh {
  const triangleCount = triangles.length / 3;
  const order = Uint32Array.from({ length: triangleCount }, (_, t) => t);
  const maxNodes = Math.max(1, 2 * Math.ceil(triangleCount / 2) + 1);
  const right = new Int32Array(maxNodes);
  const count = new Uint16Array(maxNodes);
  const centre = new Float32Array(3 * triangleCount);
  for (let t = 0; t < triangleCount; t++)
    for (let k = 0; k < 3; k++)
      centre[3 * t + k] =
        (positions[3 * triangles[3 * t]! + k]! +
          positions[3 * triangles[3 * t + 1]! + k]! +
          positions[3 * triangles[3 * t + 2]! + k]!) /
        3;
  let nodeCount = 0;
  const split = (start: number, end: number): void => {
    const node = nodeCount++;
    if (end - start <= LEAF_SIZE) {
      right[node] = -(start + 1);
      count[node] = end - start;
      return;
    }
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    for (let i = start; i < end; i++)
      for (let k = 0; k < 3; k++) {
        const c = centre[3 * order[i]! + k]!;
        if (c < lo[k]!) lo[k] = c;
        if (c > hi[k]!) hi[k] = c;
      }
    const axis = [0, 1, 2].reduce((best, k) => (hi[k]! - lo[k]! > hi[best]! - lo[best]! ? k : best), 0);
    const middle = (start + end) >> 1;
    halve(order, start, end, middle, centre, axis);
    split(start, middle);
    right[node] = nodeCount;
    split(middle, end);
  };
  if (triangleCount > 0) split(0, triangleCount);
  const bvh: Bvh = {
    triangles,
    order,
    bounds: new Float32Array(6 * nodeCount),
    right: right.slice(0, nodeCount),
    count: count.slice(0, nodeCount),
    nodeCount,
  };
  refitBvh(bvh, positions);
  return bvh;
}

/**
 * Orders a stretch of `order` so far that what stands before `middle` lies lower along the axis than what follows
 * (quickselect, Hoare 1961); equal centres go by index.
 */
function halve(
  order: Uint32Array,
  start: number,
  end: number,
  middle: number,
  centre: Float32Array,
  axis: number,
): void {
  let lo = start;
  let hi = end - 1;
  while (lo < hi) {
    const pivot = order[(lo + hi) >> 1]!;
    const at = centre[3 * pivot + axis]!;
    let i = lo;
    let j = hi;
    while (i <= j) {
      for (let t = order[i]!; centre[3 * t + axis]! < at || (centre[3 * t + axis] === at && t < pivot); t = order[i]!)
        i++;
      for (let t = order[j]!; centre[3 * t + axis]! > at || (centre[3 * t + axis] === at && t > pivot); t = order[j]!)
        j--;
      if (i > j) break;
      const swap = order[i]!;
      order[i++] = order[j]!;
      order[j--] = swap;
    }
    if (middle <= j) hi = j;
    else if (middle >= i) lo = i;
    else return;
  }
}

/**
 * Nodes that hold a triangle with a marked corner, children before parents: what must be refitted when only these
 * vertices move. @param marked per vertex.
 */
export function nodesHolding({ triangles, order, right, count, nodeCount }: Bvh, marked: Uint8Array): Uint32Array {
  const holds = new Uint8Array(nodeCount);
  const out: number[] = [];
  for (let n = nodeCount - 1; n >= 0; n--) {
    if (right[n]! >= 0) holds[n] = holds[n + 1]! | holds[right[n]!]!;
    else
      for (let i = -right[n]! - 1, end = i + count[n]!; i < end; i++)
        for (let k = 0; k < 3; k++) holds[n]! |= marked[triangles[3 * order[i]! + k]!]!;
    if (holds[n]) out.push(n);
  }
  return Uint32Array.from(out);
}

/**
 * Brings bounds up to date with moved positions, without changing the tree. @param nodes from `nodesHolding`, when only
 * some vertices moved since the last time.
 */
export function refitBvh(bvh: Bvh, positions: Float32Array, nodes?: Uint32Array): void {
  const { bounds, right } = bvh;
  const total = nodes ? nodes.length : bvh.nodeCount;
  for (let step = 0; step < total; step++) {
    const n = nodes ? nodes[step]! : total - 1 - step;
    if (right[n]! < 0) fitLeaf(bvh, n, positions);
    else joinBounds(bounds, 6 * n, 6 * (n + 1), 6 * right[n]!);
  }
}

/** Sets a node's bounds to those of its two children; offsets in the bounds. */
export function joinBounds(bounds: Float32Array, at: number, left: number, right: number): void {
  for (let k = 0; k < 3; k++) {
    const [l, r] = [bounds[left + k]!, bounds[right + k]!];
    bounds[at + k] = l < r ? l : r;
    const [lo, ro] = [bounds[left + 3 + k]!, bounds[right + 3 + k]!];
    bounds[at + 3 + k] = lo > ro ? lo : ro;
  }
}

/** Sets a leaf's bounds to those of its triangles. */
export function fitLeaf({ bounds, right, count, order, triangles }: Bvh, n: number, positions: Float32Array): void {
  let x0 = Infinity;
  let y0 = Infinity;
  let z0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  let z1 = -Infinity;
  for (let i = -right[n]! - 1, end = i + count[n]!; i < end; i++)
    for (let c = 3 * order[i]!, e = c + 3; c < e; c++) {
      const v = 3 * triangles[c]!;
      const x = positions[v]!;
      const y = positions[v + 1]!;
      const z = positions[v + 2]!;
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
      if (z < z0) z0 = z;
      if (z > z1) z1 = z;
    }
  const b = 6 * n;
  bounds[b] = x0;
  bounds[b + 1] = y0;
  bounds[b + 2] = z0;
  bounds[b + 3] = x1;
  bounds[b + 4] = y1;
  bounds[b + 5] = z1;
}

export interface ClosestPoint {
  triangle: number;
  distance: number;
  x: number;
  y: number;
  z: number;
}

const stack = new Int32Array(256);
const boxDistance = new Float64Array(256);
const hit = new Float64Array(3);

/** Closest point of triangle a b c to p (Ericson, Real-Time Collision Detection, section 5.1.5); result in `hit`. */
function closestOnTriangle(px: number, py: number, pz: number, P: Float32Array, a: number, b: number, c: number): void {
  const ax = P[a]!;
  const ay = P[a + 1]!;
  const az = P[a + 2]!;
  const abx = P[b]! - ax;
  const aby = P[b + 1]! - ay;
  const abz = P[b + 2]! - az;
  const acx = P[c]! - ax;
  const acy = P[c + 1]! - ay;
  const acz = P[c + 2]! - az;
  const apx = px - ax;
  const apy = py - ay;
  const apz = pz - az;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  let v = 0;
  let w = 0;
  if (!(d1 <= 0 && d2 <= 0)) {
    const bpx = apx - abx;
    const bpy = apy - aby;
    const bpz = apz - abz;
    const d3 = abx * bpx + aby * bpy + abz * bpz;
    const d4 = acx * bpx + acy * bpy + acz * bpz;
    const cpx = apx - acx;
    const cpy = apy - acy;
    const cpz = apz - acz;
    const d5 = abx * cpx + aby * cpy + abz * cpz;
    const d6 = acx * cpx + acy * cpy + acz * cpz;
    const vc = d1 * d4 - d3 * d2;
    const vb = d5 * d2 - d1 * d6;
    const va = d3 * d6 - d5 * d4;
    if (d3 >= 0 && d4 <= d3) v = 1;
    else if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3);
    else if (d6 >= 0 && d5 <= d6) w = 1;
    else if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6);
    else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      w = (d4 - d3) / (d4 - d3 + (d5 - d6));
      v = 1 - w;
    } else {
      const denom = 1 / (va + vb + vc);
      v = vb * denom;
      w = vc * denom;
    }
  }
  hit[0] = ax + abx * v + acx * w;
  hit[1] = ay + aby * v + acy * w;
  hit[2] = az + abz * v + acz * w;
}

/** Closest point on the surface to p, within `maxDistance`; triangle -1 when there is none. */
export function closestPoint(
  bvh: Bvh,
  positions: Float32Array,
  px: number,
  py: number,
  pz: number,
  maxDistance = Infinity,
  accept?: (triangle: number) => boolean,
): ClosestPoint {
  const best: ClosestPoint = { triangle: -1, distance: maxDistance, x: 0, y: 0, z: 0 };
  if (bvh.nodeCount === 0) return best;
  const { bounds, right, count, order, triangles } = bvh;
  let limit = maxDistance * maxDistance;
  let top = 0;
  stack[0] = 0;
  boxDistance[top++] = squaredToBox(bounds, 0, px, py, pz);
  while (top > 0) {
    const n = stack[--top]!;
    if (boxDistance[top]! > limit) continue;
    const next = right[n]!;
    if (next < 0) {
      for (let i = -next - 1, end = i + count[n]!; i < end; i++) {
        const t = order[i]!;
        if (accept && !accept(t)) continue;
        const k = 3 * t;
        closestOnTriangle(px, py, pz, positions, 3 * triangles[k]!, 3 * triangles[k + 1]!, 3 * triangles[k + 2]!);
        const x = hit[0]! - px;
        const y = hit[1]! - py;
        const z = hit[2]! - pz;
        const d = x * x + y * y + z * z;
        if (d < limit) {
          limit = d;
          best.triangle = t;
          best.distance = Math.sqrt(d);
          best.x = hit[0]!;
          best.y = hit[1]!;
          best.z = hit[2]!;
        }
      }
      continue;
    }
    const toLeft = squaredToBox(bounds, 6 * (n + 1), px, py, pz);
    const toRight = squaredToBox(bounds, 6 * next, px, py, pz);
    // the farther child waits; neither is kept when it lies beyond what was found
    const isLeftNear = toLeft < toRight;
    const farAt = isLeftNear ? toRight : toLeft;
    const nearAt = isLeftNear ? toLeft : toRight;
    if (farAt <= limit) {
      stack[top] = isLeftNear ? next : n + 1;
      boxDistance[top++] = farAt;
    }
    if (nearAt <= limit) {
      stack[top] = isLeftNear ? n + 1 : next;
      boxDistance[top++] = nearAt;
    }
  }
  return best;
}

/** Squared distance of a point to the box at `b` in a table of boxes. */
function squaredToBox(bounds: Float32Array, b: number, px: number, py: number, pz: number): number {
  const dx = px < bounds[b]! ? bounds[b]! - px : px > bounds[b + 3]! ? px - bounds[b + 3]! : 0;
  const dy = py < bounds[b + 1]! ? bounds[b + 1]! - py : py > bounds[b + 4]! ? py - bounds[b + 4]! : 0;
  const dz = pz < bounds[b + 2]! ? bounds[b + 2]! - pz : pz > bounds[b + 5]! ? pz - bounds[b + 5]! : 0;
  return dx * dx + dy * dy + dz * dz;
}

/** @returns true, and only true, when nothing more need be visited. */
export type RayVisit = (triangle: number, distance: number, sign: 1 | -1) => unknown;

/**
 * Visits every triangle a ray crosses (Moller & Trumbore 1997). `visit` gets the triangle, the distance along the unit
 * direction, and +1 where the ray leaves through the front face, -1 where it enters.
 */
export function castRay(
  bvh: Bvh,
  P: Float32Array,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  visit: RayVisit,
  most = Infinity,
): void {
  if (bvh.nodeCount === 0) return;
  const { bounds, right } = bvh;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const n = stack[--top]!;
    const b = 6 * n;
    const x1 = (bounds[b]! - ox) * ix;
    const x2 = (bounds[b + 3]! - ox) * ix;
    const y1 = (bounds[b + 1]! - oy) * iy;
    const y2 = (bounds[b + 4]! - oy) * iy;
    const z1 = (bounds[b + 2]! - oz) * iz;
    const z2 = (bounds[b + 5]! - oz) * iz;
    const enter = Math.max(Math.min(x1, x2), Math.min(y1, y2), Math.min(z1, z2), 0);
    const leave = Math.min(Math.max(x1, x2), Math.max(y1, y2), Math.max(z1, z2));
    if (!(enter <= leave) || enter > most) continue;
    if (right[n]! >= 0) {
      stack[top++] = right[n]!;
      stack[top++] = n + 1;
      continue;
    }
    if (rayThroughLeaf(bvh, n, P, ox, oy, oz, dx, dy, dz, visit, most)) return;
  }
}

/** Triangles of one leaf that a ray crosses, as `castRay` visits them. @returns whether that was enough. */
export function rayThroughLeaf(
  { right, count, order, triangles }: Bvh,
  n: number,
  P: Float32Array,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  visit: RayVisit,
  most: number,
): boolean {
  for (let i = -right[n]! - 1, end = i + count[n]!; i < end; i++) {
    const t = order[i]!;
    const A = 3 * triangles[3 * t]!;
    const B = 3 * triangles[3 * t + 1]!;
    const C = 3 * triangles[3 * t + 2]!;
    const e1x = P[B]! - P[A]!;
    const e1y = P[B + 1]! - P[A + 1]!;
    const e1z = P[B + 2]! - P[A + 2]!;
    const e2x = P[C]! - P[A]!;
    const e2y = P[C + 1]! - P[A + 1]!;
    const e2z = P[C + 2]! - P[A + 2]!;
    const hx = dy * e2z - dz * e2y;
    const hy = dz * e2x - dx * e2z;
    const hz = dx * e2y - dy * e2x;
    const det = e1x * hx + e1y * hy + e1z * hz;
    if (Math.abs(det) < 1e-18) continue;
    const inv = 1 / det;
    const sx = ox - P[A]!;
    const sy = oy - P[A + 1]!;
    const sz = oz - P[A + 2]!;
    const u = inv * (sx * hx + sy * hy + sz * hz);
    if (u < 0 || u > 1) continue;
    const qx = sy * e1z - sz * e1y;
    const qy = sz * e1x - sx * e1z;
    const qz = sx * e1y - sy * e1x;
    const w = inv * (dx * qx + dy * qy + dz * qz);
    if (w < 0 || u + w > 1) continue;
    const distance = inv * (e2x * qx + e2y * qy + e2z * qz);
    if (distance > 0 && distance <= most && visit(t, distance, det > 0 ? -1 : 1) === true) return true;
  }
  return false;
}

/** Directions chosen off every axis and diagonal, so that rays rarely graze edges. */
const PROBES = [
  [0.5773, 0.2113, 0.7887],
  [-0.6124, 0.7071, 0.3536],
  [0.2673, -0.5345, -0.8018],
] as const;

/**
 * How many times a closed surface wraps round a point: signed crossings along three rays, the median taken.
 * 0 outside, 1 inside, 2 where the surface overlaps itself.
 */
export function windingNumber(bvh: Bvh, positions: Float32Array, x: number, y: number, z: number): number {
  const counts = PROBES.map(([dx, dy, dz]) => {
    const l = Math.hypot(dx, dy, dz);
    let n = 0;
    castRay(bvh, positions, x, y, z, dx / l, dy / l, dz / l, (_t, _d, sign) => {
      n += sign;
    });
    return n;
  });
  return counts.sort((a, b) => a - b)[1]!;
}
