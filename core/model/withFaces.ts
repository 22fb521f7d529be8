import type { Part, Shape } from "./character";
import { smoothAfter } from "./smoothPlaces";

export interface Refaced {
  readonly part: Part;
  /** New vertex of each old one, -1 for those that went. */
  readonly newFromOld: Int32Array;
}

/**
 * A part made of other faces on its own vertices; vertices that no face uses any more go. Order of vertices is kept, faces stand group by group.
 * @param faces corner vertices of each face. @param groupOf index into `part.groups` of each face.
 */
export function withFaces(part: Part, faces: readonly (readonly number[])[], groupOf: (face: number) => number): Refaced {
  const used = new Uint8Array(part.positions.length / 3);
  for (const face of faces) for (const v of face) used[v] = 1;
  const newFromOld = new Int32Array(used.length).fill(-1);
  const old: number[] = [];
  used.forEach((u, v) => {
    if (u) newFromOld[v] = old.push(v) - 1;
  });
  const corners: number[] = [];
  const faceStarts = [0];
  const groups = part.groups.map((group, g) => {
    const faceStart = faceStarts.length - 1;
    faces.forEach((face, f) => {
      if (groupOf(f) !== g) return;
      for (const v of face) corners.push(newFromOld[v]!);
      faceStarts.push(corners.length);
    });
    return { ...group, faceStart, faceCount: faceStarts.length - 1 - faceStart };
  });
  const take = <A extends Float32Array | Uint16Array>(array: A, size: number): number[] => old.flatMap((v) => Array.from(array.subarray(size * v, size * v + size)));
  const { skin } = part;
  return {
    newFromOld,
    part: {
      ...part, positions: Float32Array.from(take(part.positions, 3)), corners: Uint32Array.from(corners), faceStarts: Uint32Array.from(faceStarts), groups: groups.filter((g) => g.faceCount > 0),
      ...smoothAfter(part.smooth, old),
      uvs: part.uvs && Float32Array.from(take(part.uvs, 2)), colors: part.colors && Float32Array.from(take(part.colors, 4)),
      skin: skin && { ...skin, joints: Uint16Array.from(take(skin.joints, skin.influenceCount)), weights: Float32Array.from(take(skin.weights, skin.influenceCount)) },
    },
  };
}

/** Shapes carried over to parts whose vertices were renumbered; movements of vertices that went are dropped. @param newFromOld per part, null where nothing changed. */
export function renumberShapes(shapes: readonly Shape[], newFromOld: readonly (Int32Array | null)[]): Shape[] {
  return shapes.map((shape) => ({
    ...shape,
    deltas: shape.deltas.flatMap((delta) => {
      const map = newFromOld[delta.part];
      if (!map) return [delta];
      const kept = Array.from(delta.vertices.keys()).filter((k) => map[delta.vertices[k]!]! >= 0);
      if (!kept.length) return [];
      return [{ part: delta.part, vertices: Uint32Array.from(kept, (k) => map[delta.vertices[k]!]!), deltas: Float32Array.from(kept.flatMap((k) => Array.from(delta.deltas.subarray(3 * k, 3 * k + 3)))) }];
    }),
  }));
}
