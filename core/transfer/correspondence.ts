import { fitSimilarity, applySimilarity } from "../math/similarity";
import { buildBvh, closestPoint } from "../math/bvh";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, type Character, type Part } from "../model/character";
import { UserError } from "../model/userError";
import { carryPoints } from "../surface/carryMovement";
import { fitAffine, applyLinear } from "./affineFit";
import { layOn, type LandmarkPair } from "./layOn";

/** How the triangles and vertices of a target surface stand for those of a source. */
export interface Correspondence {
  /**
   * Triangle of the source for each of the target's, -1 where none is near; null where the two are one net in one
   * order.
   */
  readonly triangleOf: Int32Array | null;
  /** A first movement of the target's vertices from one of the source's, 3 x vertexCount each. */
  readonly guess: (full: Float32Array) => Float32Array;
  /** Where the source's skin comes to lie when it is laid on the target's, 3 x the source's vertexCount. */
  readonly laid: Float32Array;
  /** Vertex of the source nearest to each of the target's; null where they are the same. */
  readonly vertexOf: Int32Array | null;
  readonly how: string;
}

export const sameNet = (a: Part, b: Part): boolean =>
  a.positions.length === b.positions.length &&
  a.corners.length === b.corners.length &&
  a.corners.every((v, i) => v === b.corners[i]) &&
  a.faceStarts.every((v, i) => v === b.faceStarts[i]);

/** Farther from the laid surface than this a triangle stands for none, metres. */
const REACH = 0.012;
const RINGS = 6;

/**
 * @param moved vertices of the source that any shape moves: the region that has to be laid on the target.
 * @param landmarks points that are known on both, at least four; used where the nets differ. @throws UserError when
 * the faces cannot be brought together.
 */
export async function correspondence(
  source: Part,
  target: Part,
  moved: Uint8Array,
  landmarks: readonly LandmarkPair[],
  tick: Tick = () => {},
): Promise<Correspondence> {
  if (sameNet(source, target))
    return {
      triangleOf: null,
      vertexOf: null,
      guess: (full) => full,
      laid: target.positions,
      how: "Both bodies are one net of faces: every triangle stands for its own.",
    };
  if (landmarks.length < 4)
    throw new UserError(
      "The bodies have other nets of faces, and too little is known on both to lay one on the other.",
      "transfer",
      "Set the kinds of eyes, teeth and tongue at Intake on both characters.",
    );
  const from = landmarks.flatMap((l) => l.from);
  const to = landmarks.flatMap((l) => l.to);
  const rough = fitSimilarity(from, to, { rounds: 1 });
  const near = landmarks.flatMap(({ from: p }) => applySimilarity(rough, p[0], p[1], p[2]));
  const affine = landmarks.length >= 6 ? fitAffine(near, to) : null;
  const start = new Float32Array(source.positions.length);
  for (let i = 0; i < start.length; i += 3) {
    const p = applySimilarity(rough, source.positions[i]!, source.positions[i + 1]!, source.positions[i + 2]!);
    start.set(affine ? applyLinear(affine.linear, p[0], p[1], p[2]).map((x, c) => x + affine.shift[c]!) : p, i);
  }
  const free = dilated(source, moved);
  const laid = await layOn(source, start, free, target, {}, tick);
  return {
    ...standsFor(source, laid, free, target),
    laid,
    how:
      "The bodies have other nets of faces: one was laid on " +
      `the other from ${landmarks.length} places known on both.`,
  };
}

/** The region and some rings round it. */
function dilated(part: Part, region: Uint8Array): Uint8Array {
  let now = region.slice();
  for (let ring = 0; ring < RINGS; ring++) {
    const next = now.slice();
    for (let f = 0; f + 1 < part.faceStarts.length; f++) {
      const corners = part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!);
      if (corners.some((v) => now[v])) for (const v of corners) next[v] = 1;
    }
    now = next;
  }
  return now;
}

function standsFor(
  source: Part,
  laid: Float32Array,
  free: Uint8Array,
  target: Part,
): Pick<Correspondence, "triangleOf" | "vertexOf" | "guess"> {
  const all = triangulate(source).triangles;
  const kept: number[] = [];
  for (let t = 0; t < all.length / 3; t++) if ([0, 1, 2].every((k) => free[all[3 * t + k]!])) kept.push(t);
  const triangles = Uint32Array.from(kept.flatMap((t) => [all[3 * t]!, all[3 * t + 1]!, all[3 * t + 2]!]));
  const bvh = buildBvh(triangles, laid);
  const T = target.positions;
  const onto = triangulate(target).triangles;
  const normal = (P: ArrayLike<number>, list: Uint32Array, t: number): number[] => {
    const [a, b, c] = [3 * list[t]!, 3 * list[t + 1]!, 3 * list[t + 2]!];
    const [u, w] = [[0, 1, 2].map((k) => P[b + k]! - P[a + k]!), [0, 1, 2].map((k) => P[c + k]! - P[a + k]!)];
    const n = [u[1]! * w[2]! - u[2]! * w[1]!, u[2]! * w[0]! - u[0]! * w[2]!, u[0]! * w[1]! - u[1]! * w[0]!];
    const l = Math.hypot(...n) || 1;
    return n.map((x) => x / l);
  };
  const normals = new Float32Array(bvh.triangles.length);
  for (let t = 0; t < bvh.triangles.length; t += 3) normals.set(normal(laid, bvh.triangles, t), t);
  const triangleOf = new Int32Array(onto.length / 3).fill(-1);
  const vertexOf = new Int32Array(T.length / 3).fill(-1);
  for (let t = 0; t < triangleOf.length; t++) {
    const corners = [onto[3 * t]!, onto[3 * t + 1]!, onto[3 * t + 2]!];
    const middle = [0, 1, 2].map((c) => corners.reduce((s, v) => s + T[3 * v + c]! / 3, 0));
    const n = normal(T, onto, 3 * t);
    const c = closestPoint(
      bvh,
      laid,
      middle[0]!,
      middle[1]!,
      middle[2]!,
      REACH,
      (s) => n[0]! * normals[3 * s]! + n[1]! * normals[3 * s + 1]! + n[2]! * normals[3 * s + 2]! > 0.3,
    );
    if (c.triangle < 0) continue;
    const own = [0, 1, 2].map((k) => bvh.triangles[3 * c.triangle + k]!);
    triangleOf[t] = kept[c.triangle]!;
    for (const v of corners) {
      if (vertexOf[v]! >= 0) continue;
      const off = own.map((w) =>
        Math.hypot(laid[3 * w]! - T[3 * v]!, laid[3 * w + 1]! - T[3 * v + 1]!, laid[3 * w + 2]! - T[3 * v + 2]!),
      );
      vertexOf[v] = own[off.indexOf(Math.min(...off))]!;
    }
  }
  return {
    triangleOf,
    vertexOf,
    guess: (full) => {
      const out = new Float32Array(T.length);
      const carried = carryPoints(T, laid, full, { triangles: bvh.triangles, bvh }, REACH, true);
      carried.vertices.forEach((v, k) => out.set(carried.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
      return out;
    },
  };
}

/**
 * Places known on two characters without a mark being set: middles and ends of the parts that both have, eyes, teeth,
 * tongue, lashes and brows.
 */
export function knownPlaces(source: Character, target: Character, pairs: ReadonlyMap<number, number>): LandmarkPair[] {
  const useful = new Set(["eye", "teeth", "tongue", "lash", "brow", "tear line"]);
  const marks = (part: Part): [number, number, number][] => {
    const P = part.positions;
    const middle: [number, number, number] = [0, 0, 0];
    const ends: [number, number, number][] = [];
    for (let i = 0; i < P.length; i++) middle[i % 3]! += P[i]! / (P.length / 3);
    for (const [axis, sign] of [
      [0, 1],
      [0, -1],
      [2, 1],
    ] as const) {
      let best = 0;
      for (let v = 0; v < P.length / 3; v++) if (sign * P[3 * v + axis]! > sign * P[3 * best + axis]!) best = v;
      ends.push([P[3 * best]!, P[3 * best + 1]!, P[3 * best + 2]!]);
    }
    return [middle, ...ends];
  };
  return [...pairs]
    .filter(([p]) => useful.has(target.parts[p]!.kind))
    .flatMap(([p, q]) => {
      const [a, b] = [marks(source.parts[q]!), marks(target.parts[p]!)];
      // the ends of an eyeball say little, its middle all
      return (target.parts[p]!.kind === "eye" ? [0] : [0, 1, 2, 3]).map((k) => ({ from: a[k]!, to: b[k]! }));
    });
}
