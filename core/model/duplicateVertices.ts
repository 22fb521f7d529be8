import type { Part, Shape, ShapeDelta } from "./character";
import { smoothAfter } from "./smoothPlaces";

/**
 * A part with copies of some vertices behind its own: colours, coordinates and weights are those of the originals.
 * @param moved place of each copy, 3 numbers each, metres.
 */
export function duplicateVertices(part: Part, from: readonly number[], moved: readonly number[]): Part {
  const take = (array: Float32Array | Uint16Array, size: number): number[] =>
    from.flatMap((v) => Array.from(array.subarray(size * v, size * v + size)));
  const longer = (array: Float32Array, size: number): Float32Array =>
    Float32Array.from([...array, ...take(array, size)]);
  const { skin } = part;
  return {
    ...part,
    positions: Float32Array.from([...part.positions, ...moved]),
    // a copy that stays at its place shares the normal there
    ...smoothAfter(part.smooth, [...Array.from({ length: part.positions.length / 3 }, (_, v) => v), ...from]),
    uvs: part.uvs && longer(part.uvs, 2),
    colors: part.colors && longer(part.colors, 4),
    skin: skin && {
      ...skin,
      joints: Uint16Array.from([...skin.joints, ...take(skin.joints, skin.influenceCount)]),
      weights: longer(skin.weights, skin.influenceCount),
    },
  };
}

/** Shapes in which the copies move as their originals do. @param count vertices the part had before. */
export const duplicateMovement = (
  shapes: readonly Shape[],
  part: number,
  from: readonly number[],
  count: number,
): Shape[] =>
  shapes.map((shape) => ({
    ...shape,
    deltas: shape.deltas.map((delta): ShapeDelta => {
      if (delta.part !== part) return delta;
      const row = new Map(Array.from(delta.vertices, (v, k) => [v, k]));
      const copies = from.flatMap((v, i) => (row.has(v) ? [{ vertex: count + i, k: row.get(v)! }] : []));
      return {
        part,
        vertices: Uint32Array.from([...delta.vertices, ...copies.map((c) => c.vertex)]),
        deltas: Float32Array.from([
          ...delta.deltas,
          ...copies.flatMap((c) => Array.from(delta.deltas.subarray(3 * c.k, 3 * c.k + 3))),
        ]),
      };
    }),
  }));
