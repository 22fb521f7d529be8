import type { Part } from "./character";
import { placesOf } from "./places";

/**
 * Normals at one place that differ by more than this make a hard edge; less is a seam or rounding. Cosine of 10
 * degrees, our own choice.
 */
const ALIKE = Math.cos((10 * Math.PI) / 180);

/**
 * Which vertices share a normal: all at one place, or with hard edges those that did so in the file and still stand at
 * one place.
 * @returns for each vertex the lowest one that stands for it.
 */
export function smoothPlaces(part: Part): Uint32Array {
  const places = placesOf(part.positions);
  const { smooth } = part;
  if (smooth?.length !== places.length) return places;
  const first = new Map<number, number>();
  return places.map((place, v) => {
    const key = place * places.length + smooth[v]!;
    if (!first.has(key)) first.set(key, v);
    return first.get(key)!;
  });
}

/** Different normals at one place that are told apart: without an end broken files take time by the square. */
export const MOST_NORMALS = 64;

/**
 * Whether two normals of a list are so near that no edge is hard between them; broken ones (of no length) say nothing.
 * @param normals 3 numbers each, of any length.
 */
export function normalsAlike(normals: Float32Array, a: number, b: number): boolean {
  let [dot, aa, bb] = [0, 0, 0];
  for (let c = 0; c < 3; c++) {
    const [x, y] = [normals[3 * a + c]!, normals[3 * b + c]!];
    dot += x * y;
    aa += x * x;
    bb += y * y;
  }
  return aa === 0 || bb === 0 || dot > ALIKE * Math.sqrt(aa * bb);
}

/**
 * Hard edges of a file: vertices at one place whose normals differ. @param normals 3 x vertexCount, of any length.
 * @returns undefined where there are none.
 */
export function smoothByNormals(positions: Float32Array, normals: Float32Array): Uint32Array | undefined {
  const places = placesOf(positions);
  const out = new Uint32Array(places.length);
  const firsts = new Map<number, number[]>();
  let hard = false;
  for (let v = 0; v < places.length; v++) {
    const list = firsts.get(places[v]!) ?? [];
    firsts.set(places[v]!, list);
    const same = list.find((w) => normalsAlike(normals, w, v));
    out[v] = same ?? v;
    // where more normals meet than any surface has, each of the rest stands for itself
    if (same === undefined && list.length < MOST_NORMALS) list.push(v);
    if (out[v] !== places[v]) hard = true;
  }
  return hard ? out : undefined;
}

/** The same after vertices were renumbered or copied. @param old the old vertex of each new one. */
export function smoothAfter(smooth: Uint32Array | undefined, old: readonly number[]): { smooth?: Uint32Array } {
  if (!smooth) return {};
  const first = new Map<number, number>();
  return {
    smooth: Uint32Array.from(old, (v, now) => {
      const group = smooth[v]!;
      if (!first.has(group)) first.set(group, now);
      return first.get(group)!;
    }),
  };
}
