import { IndexSet } from "../math/indexSet";
import { nthSmallest } from "../math/nthSmallest";
import type { Part } from "../model/character";
import { nearestRank } from "./edgeStretch";
import { faceVector, isTurned, type VectorArea } from "./faceArea";
import { restFaces } from "./restFaces";

/** What the faces of a part are at rest, for asking again and again what moved vertices do to those round them. */
export interface SkinTables {
  readonly part: Part;
  /** By corner, length of the edge from it to the next of its face at rest, metres. */
  readonly edgeRest: Float64Array;
  /** Of one reading: the faces round what moved, and ratios of their edges. */
  readonly faces: IndexSet;
  readonly ratios: Float64Array;
}

/** Edges shorter than this have no stretch, metres. */
const NO_LENGTH = 1e-6;

export function skinTables(part: Part): SkinTables {
  const { positions: P, corners, faceStarts } = part;
  const edgeRest = new Float64Array(corners.length);
  for (let f = 0; f + 1 < faceStarts.length; f++)
    for (let from = faceStarts[f]!, to = faceStarts[f + 1]!, k = from; k < to; k++)
      edgeRest[k] = distance(P, corners[k]!, corners[k + 1 < to ? k + 1 : from]!);
  return { part, edgeRest, faces: new IndexSet(faceStarts.length - 1), ratios: new Float64Array(corners.length) };
}

const distance = (P: Float32Array, a: number, b: number): number => {
  const x = P[3 * a]! - P[3 * b]!;
  const y = P[3 * a + 1]! - P[3 * b + 1]!;
  const z = P[3 * a + 2]! - P[3 * b + 2]!;
  return Math.sqrt(x * x + y * y + z * z);
};

/**
 * Stretch (99th percentile of edge length over rest length, 1 where nothing moved) and faces turned over or flattened,
 * of the faces round what moved. @param moved places of the part, 3 x vertexCount. @param touched vertices that moved.
 */
export function readMovedSkin(
  { part, edgeRest, faces, ratios }: SkinTables,
  moved: Float32Array,
  touched: Uint32Array,
): { stretch: number; flips: number } {
  const { corners, faceStarts } = part;
  const { around, vectors } = restFaces(part);
  faces.clear();
  for (const v of touched) for (let i = around.start[v]!; i < around.start[v + 1]!; i++) faces.add(around.faces[i]!);
  let count = 0;
  let flips = 0;
  const now: VectorArea = [0, 0, 0];
  for (const f of faces.members()) {
    const [from, to] = [faceStarts[f]!, faceStarts[f + 1]!];
    for (let k = from; k < to; k++)
      if (edgeRest[k]! > NO_LENGTH)
        ratios[count++] = distance(moved, corners[k]!, corners[k + 1 < to ? k + 1 : from]!) / edgeRest[k]!;
    if (isTurned(vectors[f]!, faceVector(moved, corners, from, to, now))) flips++;
  }
  const stretch = count ? nthSmallest(ratios.subarray(0, count), nearestRank(count, 0.99)) : 1;
  return { stretch, flips };
}
