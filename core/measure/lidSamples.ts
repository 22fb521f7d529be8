import type { Part } from "../model/character";

/**
 * Places on a part's surface round an eyeball, as the vertices they are the mean of: vertices, middles of edges and of
 * faces, for an eyeball may come through between vertices.
 * @param isNear which vertices are near enough; a face with one near corner counts.
 */
export function lidSamples(body: Part, isNear: (vertex: number) => boolean): number[][] {
  const out = new Map<string, number[]>();
  for (let f = 0; f + 1 < body.faceStarts.length; f++) {
    const corners = Array.from(body.corners.subarray(body.faceStarts[f]!, body.faceStarts[f + 1]!));
    if (!corners.some(isNear)) continue;
    for (const vertices of [
      ...corners.map((v) => [v]),
      ...corners.map((v, k) => [v, corners[(k + 1) % corners.length]!].sort((a, b) => a - b)),
      corners,
    ])
      out.set(vertices.join(" "), vertices);
  }
  return [...out.values()];
}

/** Mean of some vertices. @param P 3 x vertexCount. @param from, to which of the list. */
export function meanOf(
  P: Float32Array,
  vertices: ArrayLike<number>,
  from = 0,
  to = vertices.length,
): [number, number, number] {
  const n = to - from;
  let [x, y, z]: [number, number, number] = [0, 0, 0];
  for (let k = from; k < to; k++) {
    const v = 3 * vertices[k]!;
    x += P[v]! / n;
    y += P[v + 1]! / n;
    z += P[v + 2]! / n;
  }
  return [x, y, z];
}
