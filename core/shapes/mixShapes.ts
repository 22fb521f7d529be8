import type { Shape, ShapeDelta } from "../model/character";

/** Weighted sum of shapes as one set of deltas, by part and vertex in order. */
export function mixShapes(shares: readonly (readonly [shape: Pick<Shape, "deltas">, weight: number])[]): ShapeDelta[] {
  const sums = new Map<number, Map<number, [number, number, number]>>();
  for (const [shape, weight] of shares)
    for (const delta of shape.deltas) {
      const sum = sums.get(delta.part) ?? new Map<number, [number, number, number]>();
      sums.set(delta.part, sum);
      delta.vertices.forEach((v, k) => {
        const s = sum.get(v) ?? [0, 0, 0];
        for (let c = 0; c < 3; c++) s[c]! += weight * delta.deltas[3 * k + c]!;
        sum.set(v, s);
      });
    }
  return [...sums].sort((a, b) => a[0] - b[0]).map(([part, sum]): ShapeDelta => {
    const vertices = [...sum.keys()].sort((a, b) => a - b);
    return { part, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(vertices.flatMap((v) => sum.get(v)!)) };
  });
}
