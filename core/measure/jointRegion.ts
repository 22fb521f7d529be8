import { vertexCountOf, type Character, type Part } from "../model/character";
import { worldMatrices } from "../evaluate/poseSkeleton";
import type { Rig } from "../deform/rig";
import { translationOf } from "../math/mat4";
import { pointAt, type Vec3 } from "../math/vec3";

/** Where a joint deforms one part: the tables every pose measure works on. Topology only, good for all poses. */
export interface JointRegion {
  readonly joint: number;
  readonly part: number;
  /** Share of each vertex's weight held by the joint and everything under it. */
  readonly share: Float32Array;
  /** Vertices the joint bends: near it and held by both sides. */
  readonly vertices: Uint32Array;
  /** Triangles (indices into rig.triangles[part]) of the limb over the joint. */
  readonly limbTriangles: Uint32Array;
  /** Directed border edges of `limbTriangles`, pairs of vertices, and the cap each belongs to. */
  readonly borderEdges: Uint32Array;
  readonly capOfEdge: Uint32Array;
  readonly capCount: number;
  /** Undirected edges in the bending zone, pairs of vertices. */
  readonly edges: Uint32Array;
  /** Triangles mostly below the joint / mostly above it. */
  readonly moving: Uint32Array;
  readonly still: Uint32Array;
  /** Rest place of the joint, and the limb's radius there, metres. */
  readonly centre: Vec3;
  readonly radius: number;
}

/** 1 for the joint and all its descendants. */
export function subtreeOf(character: Character, joint: number): Uint8Array {
  const out = new Uint8Array(character.skeleton!.joints.length);
  character.skeleton!.joints.forEach((j, i) => {
    out[i] = i === joint || (j.parent >= 0 && out[j.parent]) ? 1 : 0;
  });
  return out;
}

/** Share of every vertex's weight held by joints marked in `inside`. */
export function weightShare(part: Part, inside: Uint8Array): Float32Array {
  const out = new Float32Array(vertexCountOf(part));
  const skin = part.skin;
  if (skin)
    for (let v = 0, n = 0; v < out.length; v++)
      for (let k = 0; k < skin.influenceCount; k++, n++) if (inside[skin.joints[n]!]) out[v]! += skin.weights[n]!;
  return out;
}

const restShapeWeights = (positions: Float32Array, vertices: ArrayLike<number>, centre: Vec3): number => {
  const d = Array.from(vertices, (v) =>
    Math.hypot(positions[3 * v]! - centre[0], positions[3 * v + 1]! - centre[1], positions[3 * v + 2]! - centre[2]),
  ).sort((a, b) => a - b);
  return d.length ? d[d.length >> 1]! : 0;
};

/** Share of the limb's radius the region reaches to either side of the joint. */
const REACH = 2.4;

/**
 * Finds the part of the surface that a joint bends, in one part.
 * @returns null when the part has no vertex held by both sides of the joint.
 */
export function jointRegion(rig: Rig, joint: number, part: number): JointRegion | null {
  const { character } = rig;
  const p = character.parts[part]!;
  if (!p.skin || !character.skeleton) return null;
  const share = weightShare(p, subtreeOf(character, joint));
  const bent: number[] = [];
  for (let v = 0; v < share.length; v++) if (isBent(share[v]!)) bent.push(v);
  if (bent.length < 8) return null;
  const world = worldMatrices(character.skeleton, {});
  const centre = translationOf(world, 16 * joint);
  const half = bent.filter((v) => share[v]! > 0.2 && share[v]! < 0.8);
  const radius = restShapeWeights(p.positions, half.length > 3 ? half : bent, centre);
  const limb = limbOf(character, joint, p, share, (v) => {
    const q = pointAt(p.positions, v);
    return Math.hypot(q[0] - centre[0], q[1] - centre[1], q[2] - centre[2]) < REACH * radius;
  });
  const triangles = rig.triangles[part]!;
  const limbTriangles: number[] = [];
  const moving: number[] = [];
  const still: number[] = [];
  for (let t = 0; t < triangles.length / 3; t++) {
    const a = triangles[3 * t]!;
    const b = triangles[3 * t + 1]!;
    const c = triangles[3 * t + 2]!;
    if (limb[a] && limb[b] && limb[c]) limbTriangles.push(t);
    (share[a]! + share[b]! + share[c]! > 1.5 ? moving : still).push(t);
  }
  const { border, edges } = edgesOf(triangles, limbTriangles, rig.placeOf[part] ?? null, share);
  const caps = groupBorder(border);
  return {
    joint,
    part,
    share,
    centre,
    radius,
    vertices: Uint32Array.from(bent),
    limbTriangles: Uint32Array.from(limbTriangles),
    borderEdges: Uint32Array.from(border.flat()),
    capOfEdge: caps.capOfEdge,
    capCount: caps.capCount,
    edges: Uint32Array.from(edges.flat()),
    moving: Uint32Array.from(moving),
    still: Uint32Array.from(still),
  };
}

/** 1 for vertices of the limb: the joint's own stretch and its parent's, not the whole trunk. */
function limbOf(
  { skeleton }: Character,
  joint: number,
  { skin }: Part,
  share: Float32Array,
  near: (v: number) => boolean,
): Uint8Array {
  const { joints } = skeleton!;
  const parent = joints[joint]!.parent;
  const isOwn = joints.map((other, j) => j === joint || j === parent || other.parent === joint);
  const limb = new Uint8Array(share.length);
  for (let v = 0, n = 0; v < share.length; v++) {
    let own = 0;
    for (let k = 0; k < skin!.influenceCount; k++, n++)
      if (skin!.weights[n]! > 0 && isOwn[skin!.joints[n]!]) own += skin!.weights[n]!;
    if ((own > 0.5 || isBent(share[v]!)) && near(v)) limb[v] = 1;
  }
  return limb;
}
const isBent = (share: number): boolean => share > 0.02 && share < 0.98;

type Edge = readonly [number, number];
const byEnds = (x: Edge, y: Edge): number => x[0] - y[0] || x[1] - y[1];

/** Edges of some triangles between places: those on the border, directed, and those that bend; sorted by their ends. */
function edgesOf(
  triangles: Uint32Array,
  chosen: readonly number[],
  places: Uint32Array | null,
  share: Float32Array,
): { border: readonly Edge[]; edges: readonly Edge[] } {
  const place = (v: number): number => (places ? places[v]! : v);
  const N = share.length;
  const directed = new Map<number, Edge>();
  const edges = new Map<number, Edge>();
  for (const t of chosen)
    for (let k = 0; k < 3; k++) {
      const a = place(triangles[3 * t + k]!);
      const b = place(triangles[3 * t + ((k + 1) % 3)]!);
      if (directed.has(b * N + a)) directed.delete(b * N + a);
      else directed.set(a * N + b, [a, b]);
      if (isBent(share[a]!) || isBent(share[b]!))
        edges.set(Math.min(a, b) * N + Math.max(a, b), [Math.min(a, b), Math.max(a, b)]);
    }
  return { border: [...directed.values()].sort(byEnds), edges: [...edges.values()].sort(byEnds) };
}

/** Puts border edges that touch into one cap (union by smallest vertex). */
function groupBorder(border: readonly (readonly [number, number])[]): { capOfEdge: Uint32Array; capCount: number } {
  const root = new Map<number, number>();
  const find = (v: number): number => {
    let r = v;
    while ((root.get(r) ?? r) !== r) r = root.get(r)!;
    root.set(v, r);
    return r;
  };
  for (const [a, b] of border) {
    const ra = find(a);
    const rb = find(b);
    root.set(Math.max(ra, rb), Math.min(ra, rb));
  }
  const ids = new Map<number, number>();
  const capOfEdge = Uint32Array.from(border, ([a]) => {
    const r = find(a);
    if (!ids.has(r)) ids.set(r, ids.size);
    return ids.get(r)!;
  });
  return { capOfEdge, capCount: ids.size };
}

/** The part a joint bends most: the one with the largest bending region. */
export function mainRegion(rig: Rig, joint: number): JointRegion | null {
  let best: JointRegion | null = null;
  for (let p = 0; p < rig.character.parts.length; p++) {
    if (rig.character.parts[p]!.kind === "garment" || rig.character.parts[p]!.kind === "hair") continue;
    const region = jointRegion(rig, joint, p);
    if (region && (!best || region.vertices.length > best.vertices.length)) best = region;
  }
  return best;
}
