/** Up to 200 vertices spread over a part, enough to frame and mark it. */
export const spreadVertices = (count: number): number[] =>
  Array.from({ length: Math.min(200, count) }, (_, i) => Math.floor((i * count) / Math.min(200, count)));
