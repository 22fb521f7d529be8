import type { CornerLook, Part } from "../../model/character";
import { cornerLookOf, groupOfEachFace, groupsByCorner } from "../../model/cornerLook";

/** What the extras of a mesh say of a part's corners. */
export interface LookExtras {
  readonly copies?: number[];
  readonly smoothing?: number[];
}

/**
 * Notes from which the part can be put together again after its vertices were split. @param copies the vertex behind
 * each copy that is written.
 */
export function lookExtras(whole: Part, copies: Uint32Array): LookExtras {
  if (!cornerLookOf(whole)) return {};
  const ofFaces = groupOfEachFace(whole);
  const smoothing: number[] = [];
  if (ofFaces)
    for (const g of whole.groups)
      for (let f = g.faceStart; f < g.faceStart + g.faceCount; f++) {
        if (smoothing.length && smoothing[smoothing.length - 2] === ofFaces[f]) smoothing[smoothing.length - 1]!++;
        else smoothing.push(ofFaces[f]!, 1);
      }
  return { ...(copies.length ? { copies: Array.from(copies) } : {}), ...(smoothing.length ? { smoothing } : {}) };
}

/** A part of a file before it is bound, with what stands by vertex. */
type Read = Omit<Part, "skin">;

export interface Folded {
  readonly part: Read;
  /** Vertices the part has; those of the file that stand behind them were copies. */
  readonly vertexCount: number;
}

/**
 * Puts vertices that were split for the file back together when its notes still fit: as many vertices, each copy at its
 * vertex' place. Notes that no longer fit are passed over, and the part stays as the file has it.
 */
export function foldCopies(part: Read, { copies = [], smoothing }: LookExtras): Folded {
  const count = part.positions.length / 3;
  const vertexCount = count - copies.length;
  const P = part.positions;
  const fits =
    vertexCount > 0 &&
    copies.every((v, i) => v < vertexCount && [0, 1, 2].every((c) => P[3 * v + c] === P[3 * (vertexCount + i) + c]));
  const ofFaces = smoothing && facesOfRuns(smoothing, part.faceStarts.length - 1);
  if (!fits || (!copies.length && !ofFaces)) return { part, vertexCount: count };
  const groups = ofFaces
    ? groupsByCorner(part.faceStarts, ofFaces)
    : part.smooth
      ? part.corners.map((d) => part.smooth![d]! + 1)
      : null;
  const uvs =
    part.uvs &&
    Float32Array.from({ length: 2 * part.corners.length }, (_, i) => part.uvs![2 * part.corners[i >> 1]! + (i & 1)]!);
  const corners = part.corners.map((d) => (d < vertexCount ? d : copies[d - vertexCount]!));
  const seams = uvs?.some((x, i) => x !== part.uvs![2 * corners[i >> 1]! + (i & 1)]) ?? false;
  const look: CornerLook = { groups, uvs: seams ? uvs : null };
  const { smooth, ...rest } = part;
  return {
    vertexCount,
    part: {
      ...rest,
      corners,
      positions: P.slice(0, 3 * vertexCount),
      uvs: part.uvs && part.uvs.slice(0, 2 * vertexCount),
      colors: part.colors && part.colors.slice(0, 4 * vertexCount),
      ...(groups || seams ? { cornerLook: look } : {}),
    },
  };
}

function facesOfRuns(runs: readonly number[], faceCount: number): Uint32Array | null {
  const out: number[] = [];
  for (let i = 0; i + 1 < runs.length; i += 2)
    for (let n = 0; n < runs[i + 1]! && out.length <= faceCount; n++) out.push(runs[i]!);
  return out.length === faceCount ? Uint32Array.from(out) : null;
}
