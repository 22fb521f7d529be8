import type { Shape, ShapeDelta } from "../model/character";

/** Weighted sum of shapes as one set of deltas, by part and vertex in order. */
export function mixShapes(shares: readonly (readonly [shape: Pick<Shape, "deltas">, weight: number])[]): ShapeDelta[] {
  const parts = [...new Set(shares.flatMap(([shape]) => shape.deltas.map((d) => d.part)))].sort((a, b) => a - b);
  return parts.map((part): ShapeDelta => {
    const of = shares.flatMap(([shape, weight]) =>
      shape.deltas.filter((d) => d.part === part).map((delta) => ({ delta, weight })),
    );
    let count = 0;
    for (const { delta } of of) for (const v of delta.vertices) if (v >= count) count = v + 1;
    const sum = new Float64Array(3 * count);
    const touched = new Uint8Array(count);
    for (const { delta, weight } of of)
      for (let k = 0; k < delta.vertices.length; k++) {
        const v = delta.vertices[k]!;
        touched[v] = 1;
        sum[3 * v]! += weight * delta.deltas[3 * k]!;
        sum[3 * v + 1]! += weight * delta.deltas[3 * k + 1]!;
        sum[3 * v + 2]! += weight * delta.deltas[3 * k + 2]!;
      }
    const vertices = new Uint32Array(touched.reduce((n, t) => n + t, 0));
    const deltas = new Float32Array(3 * vertices.length);
    for (let v = 0, k = 0; v < count; v++) {
      if (!touched[v]) continue;
      vertices[k] = v;
      for (let c = 0; c < 3; c++) deltas[3 * k + c] = sum[3 * v + c]!;
      k++;
    }
    return { part, vertices, deltas };
  });
}
