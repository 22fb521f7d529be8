import { faceCountOf, type CornerLook, type Part } from "./character";

/** Corners of a part as its look holds them, when it fits the faces. */
export const cornerLookOf = ({ cornerLook: look, corners }: Part): CornerLook | null =>
  look &&
  (!look.groups || look.groups.length === corners.length) &&
  (!look.uvs || look.uvs.length === 2 * corners.length) &&
  (look.groups || look.uvs)
    ? look
    : null;

/** The group of each face where all its corners have one; null where faces have several. */
export function groupOfEachFace(part: Part): Uint32Array | null {
  const groups = cornerLookOf(part)?.groups;
  if (!groups) return null;
  const out = new Uint32Array(faceCountOf(part));
  for (let f = 0; f < out.length; f++) {
    out[f] = groups[part.faceStarts[f]!]!;
    for (let k = part.faceStarts[f]! + 1; k < part.faceStarts[f + 1]!; k++) if (groups[k] !== out[f]) return null;
  }
  return out;
}

/** Group by corner from one by face. */
export function groupsByCorner(faceStarts: Uint32Array, ofFace: ArrayLike<number>): Uint32Array {
  const out = new Uint32Array(faceStarts[faceStarts.length - 1]!);
  for (let f = 0; f + 1 < faceStarts.length; f++) out.fill(ofFace[f]!, faceStarts[f]!, faceStarts[f + 1]!);
  return out;
}

/** A face made anew. */
export interface NewFace {
  /** Its vertices. */
  readonly corners: readonly number[];
  /** The face it comes from; -1 where no single one stands behind it. */
  readonly from: number;
  /** The vertices its corners had there, where those changed. */
  readonly was?: readonly number[];
}

/**
 * The look carried to other faces on the same vertices: each corner keeps what it had in the face it comes from; one
 * that is new there takes the face's group and its vertex's own coordinate.
 */
export function cornerLookAfter(part: Part, faces: readonly NewFace[]): { cornerLook?: CornerLook } {
  const look = cornerLookOf(part);
  if (!look) return {};
  const groups: number[] = [];
  const uvs: number[] = [];
  for (const { corners, from, was = corners } of faces) {
    const [s, e] = from < 0 ? [0, 0] : [part.faceStarts[from]!, part.faceStarts[from + 1]!];
    corners.forEach((v, i) => {
      let k = s;
      while (k < e && part.corners[k] !== was[i]) k++;
      const found = k < e;
      if (look.groups) groups.push(from < 0 ? 1 : look.groups[found ? k : s]!);
      if (look.uvs)
        uvs.push(...(found ? look.uvs.subarray(2 * k, 2 * k + 2) : (part.uvs?.subarray(2 * v, 2 * v + 2) ?? [0, 0])));
    });
  }
  return { cornerLook: { groups: look.groups && Uint32Array.from(groups), uvs: look.uvs && Float32Array.from(uvs) } };
}
