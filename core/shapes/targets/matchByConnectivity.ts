import type { PlainMesh } from "../../formats/readPly";

/** Target vertex of each base vertex where the two meshes are the same net of faces in another order. */
export type VertexOrder = Int32Array;

interface Net {
  readonly mesh: PlainMesh;
  /**
   * Corner at which each directed edge starts, by `a * count + b`; -1 where two faces run along an edge in the same
   * direction.
   */
  readonly cornerOf: ReadonlyMap<number, number>;
  readonly faceOfCorner: Uint32Array;
  readonly count: number;
  readonly valence: Uint32Array;
}

function netOf(mesh: PlainMesh): Net {
  const count = mesh.positions.length / 3;
  const cornerOf = new Map<number, number>();
  const faceOfCorner = new Uint32Array(mesh.corners.length);
  const valence = new Uint32Array(count);
  for (let f = 0; f + 1 < mesh.faceStarts.length; f++)
    for (let k = mesh.faceStarts[f]!; k < mesh.faceStarts[f + 1]!; k++) {
      faceOfCorner[k] = f;
      valence[mesh.corners[k]!]!++;
      const key = mesh.corners[k]! * count + mesh.corners[nextCorner(mesh, f, k)]!;
      cornerOf.set(key, cornerOf.has(key) ? -1 : k);
    }
  return { mesh, cornerOf, faceOfCorner, count, valence };
}

const nextCorner = (mesh: PlainMesh, face: number, k: number): number =>
  k + 1 < mesh.faceStarts[face + 1]! ? k + 1 : mesh.faceStarts[face]!;

/**
 * Corner count of the face, then faces at each of its corners in turn from `k`: what an edge looks like from its face.
 */
function signature({ mesh, faceOfCorner, valence }: Net, k: number): string {
  const f = faceOfCorner[k]!;
  const words: number[] = [];
  for (let c = k, n = mesh.faceStarts[f + 1]! - mesh.faceStarts[f]!; n > 0; n--, c = nextCorner(mesh, f, c))
    words.push(valence[mesh.corners[c]!]!);
  return words.join(" ");
}

/**
 * Finds the order in which the target holds the base's vertices, from the faces alone: one edge is laid on another and
 * the rest of the shell follows face by face. Where several beginnings fit (a tube turned by one face is the same net),
 * the one whose vertices lie nearest is taken. Movement of the vertices does not matter, a mirror image does not fit.
 * @returns null when the nets differ.
 */
export function matchByConnectivity(base: PlainMesh, target: PlainMesh): VertexOrder | null {
  if (
    base.positions.length !== target.positions.length ||
    base.corners.length !== target.corners.length ||
    base.faceStarts.length !== target.faceStarts.length
  )
    return null;
  const [from, to] = [netOf(base), netOf(target)];
  const order = new Int32Array(from.count).fill(-1);
  const used = new Uint8Array(to.count);
  const bySignature = new Map<string, number[]>();
  for (let k = 0; k < target.corners.length; k++) {
    const s = signature(to, k);
    const list = bySignature.get(s);
    if (!list) bySignature.set(s, [k]);
    else if (list.length < MOST_BEGINNINGS) list.push(k);
  }
  for (const shell of shells(from)) {
    const seed = shell
      .map((k) => ({ k, many: bySignature.get(signature(from, k))?.length ?? 0 }))
      .reduce((a, b) => (b.many < a.many ? b : a));
    let best: { pairs: [number, number][]; distance: number } | null = null;
    for (const start of bySignature.get(signature(from, seed.k)) ?? []) {
      if (used[target.corners[start]!]) continue;
      const pairs = walk(from, to, seed.k, start);
      if (!pairs) continue;
      const distance = pairs.reduce(
        (sum, [a, b]) =>
          sum + Math.hypot(...[0, 1, 2].map((c) => base.positions[3 * a + c]! - target.positions[3 * b + c]!)),
        0,
      );
      if (!best || distance < best.distance) best = { pairs, distance };
    }
    if (!best) return null;
    for (const [a, b] of best.pairs) {
      order[a] = b;
      used[b] = 1;
    }
  }
  return placeLoose(order, used);
}
/** More edges of one look than this are not all tried. */
const MOST_BEGINNINGS = 4000;

/** One list of corners for each connected run of faces. */
function shells({ mesh, faceOfCorner }: Net): number[][] {
  const byVertex = new Map<number, number[]>();
  mesh.corners.forEach((v, k) => {
    const list = byVertex.get(v);
    if (list) list.push(k);
    else byVertex.set(v, [k]);
  });
  const seen = new Uint8Array(mesh.faceStarts.length);
  const out: number[][] = [];
  for (let f = 0; f + 1 < mesh.faceStarts.length; f++) {
    if (seen[f]) continue;
    seen[f] = 1;
    const corners: number[] = [];
    for (const queue = [f]; queue.length;) {
      const g = queue.pop()!;
      for (let k = mesh.faceStarts[g]!; k < mesh.faceStarts[g + 1]!; k++) {
        corners.push(k);
        for (const other of byVertex.get(mesh.corners[k]!)!) {
          const h = faceOfCorner[other]!;
          if (!seen[h]) queue.push(h);
          seen[h] = 1;
        }
      }
    }
    out.push(corners);
  }
  return out;
}

/**
 * Lays the face at one corner on the face at another and goes on over every edge; null at the first face that does not
 * fit.
 */
function walk(from: Net, to: Net, start: number, onto: number): [number, number][] | null {
  const match = new Map<number, number>();
  const taken = new Map<number, number>();
  const done = new Set<number>();
  const queue: [number, number][] = [[start, onto]];
  while (queue.length) {
    const [k, l] = queue.pop()!;
    const [f, g] = [from.faceOfCorner[k]!, to.faceOfCorner[l]!];
    if (done.has(f)) continue;
    done.add(f);
    if (from.mesh.faceStarts[f + 1]! - from.mesh.faceStarts[f]! !== to.mesh.faceStarts[g + 1]! - to.mesh.faceStarts[g]!)
      return null;
    for (let a = k, b = l, n = from.mesh.faceStarts[f + 1]! - from.mesh.faceStarts[f]!; n > 0; n--) {
      const [v, w] = [from.mesh.corners[a]!, to.mesh.corners[b]!];
      if ((match.get(v) ?? w) !== w || (taken.get(w) ?? v) !== v) return null;
      match.set(v, w);
      taken.set(w, v);
      const [a2, b2] = [nextCorner(from.mesh, f, a), nextCorner(to.mesh, g, b)];
      const over = from.cornerOf.get(from.mesh.corners[a2]! * from.count + v);
      const across = to.cornerOf.get(to.mesh.corners[b2]! * to.count + w);
      if ((over === undefined) !== (across === undefined)) return null;
      if (over !== undefined && across !== undefined && over >= 0 && across >= 0) queue.push([over, across]);
      a = a2;
      b = b2;
    }
  }
  return [...match];
}

/** Vertices in no face keep their turn among those left over. */
function placeLoose(order: Int32Array, used: Uint8Array): VertexOrder | null {
  const left = Array.from(used.keys()).filter((v) => !used[v]);
  order.forEach((o, v) => {
    if (o < 0) order[v] = left.shift() ?? -1;
  });
  return order.includes(-1) ? null : order;
}
