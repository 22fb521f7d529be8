import { faceCountOf, type Part, type Shape } from "./character";
import { cornerLookAfter, type NewFace } from "./cornerLook";
import { smoothAfter } from "./smoothPlaces";

export interface Refaced {
  readonly part: Part;
  /** New vertex of each old one, -1 for those that went. */
  readonly newFromOld: Int32Array;
}

/**
 * A part made of other faces on its own vertices; vertices that no face uses any more go. Order of vertices is kept,
 * faces stand group by group.
 * @param groupOf index into `part.groups` of each face; that of the face it comes from where it is not said.
 */
export function withFaces(
  part: Part,
  faces: readonly NewFace[],
  groupOf = (face: number): number => groupOfFace(part, faces[face]!.from),
): Refaced {
  const used = new Uint8Array(part.positions.length / 3);
  for (const { corners } of faces) for (const v of corners) used[v] = 1;
  const newFromOld = new Int32Array(used.length).fill(-1);
  const old: number[] = [];
  used.forEach((u, v) => {
    if (u) newFromOld[v] = old.push(v) - 1;
  });
  const corners: number[] = [];
  const faceStarts = [0];
  const groupNow = faces.map((_, f) => groupOf(f));
  const inOrder: NewFace[] = [];
  const groups = part.groups.map((group, g) => {
    const faceStart = faceStarts.length - 1;
    faces.forEach((face, f) => {
      if (groupNow[f] !== g) return;
      for (const v of face.corners) corners.push(newFromOld[v]!);
      inOrder.push(face);
      faceStarts.push(corners.length);
    });
    return { ...group, faceStart, faceCount: faceStarts.length - 1 - faceStart };
  });
  const take = <A extends Float32Array | Uint16Array>(array: A, size: number): number[] =>
    old.flatMap((v) => Array.from(array.subarray(size * v, size * v + size)));
  const { skin } = part;
  return {
    newFromOld,
    part: {
      ...part,
      positions: Float32Array.from(take(part.positions, 3)),
      corners: Uint32Array.from(corners),
      faceStarts: Uint32Array.from(faceStarts),
      groups: groups.filter((g) => g.faceCount > 0),
      ...smoothAfter(part.smooth, old),
      ...cornerLookAfter(part, inOrder),
      uvs: part.uvs && Float32Array.from(take(part.uvs, 2)),
      colors: part.colors && Float32Array.from(take(part.colors, 4)),
      skin: skin && {
        ...skin,
        joints: Uint16Array.from(take(skin.joints, skin.influenceCount)),
        weights: Float32Array.from(take(skin.weights, skin.influenceCount)),
      },
    },
  };
}

const groupOfFace = (part: Part, face: number): number =>
  part.groups.findIndex((g) => face >= g.faceStart && face < g.faceStart + g.faceCount);

/** Every face of a part as it is. */
export const facesOf = (part: Part): NewFace[] =>
  Array.from({ length: faceCountOf(part) }, (_, from) => ({
    corners: Array.from(part.corners.subarray(part.faceStarts[from]!, part.faceStarts[from + 1]!)),
    from,
  }));

/**
 * Shapes carried over to parts whose vertices were renumbered; movements of vertices that went are dropped. @param
 * newFromOld per part, null where nothing changed.
 */
export function renumberShapes(shapes: readonly Shape[], newFromOld: readonly (Int32Array | null)[]): Shape[] {
  return shapes.map((shape) => ({
    ...shape,
    deltas: shape.deltas.flatMap((delta) => {
      const map = newFromOld[delta.part];
      if (!map) return [delta];
      const kept = Array.from(delta.vertices.keys()).filter((k) => map[delta.vertices[k]!]! >= 0);
      if (!kept.length) return [];
      return [
        {
          part: delta.part,
          vertices: Uint32Array.from(kept, (k) => map[delta.vertices[k]!]!),
          deltas: Float32Array.from(kept.flatMap((k) => Array.from(delta.deltas.subarray(3 * k, 3 * k + 3)))),
        },
      ];
    }),
  }));
}
