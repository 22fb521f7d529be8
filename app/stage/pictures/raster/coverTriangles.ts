import type { Frame } from "./frame";

/** Which triangles of a part, and from which sides they are seen. */
export interface Run {
  /** Corners, 3 a triangle. */
  readonly triangles: Uint32Array;
  readonly start: number;
  readonly end: number;
  readonly doubleSided: boolean;
}

/**
 * Told of each pixel of a triangle that nothing drawn before hides. @param corner first corner of the triangle.
 * @returns whether the pixel is taken: it hides then what lies behind.
 */
export type Visit = (pixel: number, column: number, row: number, corner: number, near: number) => boolean;

/** First and last pixel of a row or column whose centre is not before or behind a place. */
const firstCentre = (from: number): number => Math.max(0, Math.ceil(from - 0.5));
const lastCentre = (to: number, size: number): number => Math.min(size - 1, Math.floor(to - 0.5));

/**
 * Finds the pixels whose centres lie in the triangles of a run, by edge functions (Pineda 1988) with the upper left
 * rule, so that of two that share an edge one has each pixel.
 *
 * @param screen 3 a vertex, from `project`.
 * @param id what is written where a pixel is taken.
 * @param visit asked for each pixel; null takes all.
 */
export function coverTriangles(frame: Frame, screen: Float32Array, run: Run, id: number, visit: Visit | null): void {
  const { triangles, start, end, doubleSided } = run;
  const { width, height, near, corner, surface } = frame;
  for (let t = start; t < end; t += 3) {
    const a = 3 * triangles[t]!;
    let b = 3 * triangles[t + 1]!;
    let c = 3 * triangles[t + 2]!;
    const ax = screen[a]!;
    const ay = screen[a + 1]!;
    let bx = screen[b]!;
    let by = screen[b + 1]!;
    let cx = screen[c]!;
    let cy = screen[c + 1]!;
    // rows run downward: what turns left in space turns right here
    let area = (cx - ax) * (by - ay) - (cy - ay) * (bx - ax);
    if (area <= 0) {
      if (!doubleSided || area === 0 || area !== area) continue;
      [b, c, bx, by, cx, cy] = [c, b, cx, cy, bx, by];
      area = -area;
    }
    const left = firstCentre(Math.min(ax, bx, cx));
    const right = lastCentre(Math.max(ax, bx, cx), width);
    const top = firstCentre(Math.min(ay, by, cy));
    const bottom = lastCentre(Math.max(ay, by, cy), height);
    if (left > right || top > bottom) continue;
    const az = screen[a + 2]!;
    const bz = screen[b + 2]!;
    const cz = screen[c + 2]!;
    if (az === 0 || bz === 0 || cz === 0) continue;
    // an edge function is the area over its edge, growing inward; from 0 on where the edge is an upper left one
    const stepA = by - cy;
    const stepB = cy - ay;
    const stepC = ay - by;
    const openA = cy < by || (cy === by && cx > bx);
    const openB = ay < cy || (ay === cy && ax > cx);
    const openC = by < ay || (by === ay && bx > ax);
    const one = 1 / area;
    for (let y = top; y <= bottom; y++) {
      const row = y + 0.5;
      const from = left + 0.5;
      let wa = (cx - from) * (by - row) - (cy - row) * (bx - from);
      let wb = (ax - from) * (cy - row) - (ay - row) * (cx - from);
      let wc = (bx - from) * (ay - row) - (by - row) * (ax - from);
      for (let x = left, pixel = y * width + left; x <= right; x++, pixel++) {
        const inside = (wa > 0 || (wa === 0 && openA)) && (wb > 0 || (wb === 0 && openB));
        if (inside && (wc > 0 || (wc === 0 && openC))) {
          const z = (wa * az + wb * bz + wc * cz) * one;
          if (z > near[pixel]! && (visit === null || visit(pixel, x, y, t, z))) {
            near[pixel] = z;
            corner[pixel] = t;
            surface[pixel] = id;
          }
        }
        wa -= stepA;
        wb -= stepB;
        wc -= stepC;
      }
    }
  }
}
