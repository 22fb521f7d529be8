import { toSrgb } from "~core/math/srgb";
import { coverTriangles } from "./coverTriangles";
import { clearFrame, type Frame } from "./frame";
import { project, type Lens } from "./lens";
import { opacityAt, shadeAt, type Shown } from "./shade";
import type { Surface } from "./surfaces";

const STEPS = 4096;
/** 8 bits of sRGB for linear light 0..1 in steps. */
const ENCODED = Uint8Array.from({ length: STEPS + 1 }, (_, i) => Math.round(255 * toSrgb(i / STEPS)));
const encoded = (light: number): number => ENCODED[light >= 1 ? STEPS : (light * STEPS + 0.5) | 0]!;

const shaded = new Float64Array(4);

/**
 * Draws surfaces without a graphics card: finds what is seen in each pixel, shades that once, and lays what is blended
 * over it in order.
 *
 * @param parts what of each part is shown; their `screen` is written here.
 * @param fine whether each pixel is shaded, else pieces of two by two.
 */
export function paintSurfaces(
  frame: Frame,
  lens: Lens,
  surfaces: readonly Surface[],
  parts: readonly Shown[],
  fine: boolean,
): void {
  clearFrame(frame);
  for (const { points, screen } of parts) project(points, lens, screen);
  surfaces.forEach((surface, i) => {
    if (!surface.hides) return;
    const shown = parts[surface.part]!;
    const cut = (_: number, column: number, row: number, corner: number): boolean =>
      opacityAt(surface, shown, corner, column, row) >= surface.least;
    coverTriangles(frame, shown.screen, surface, i + 1, surface.least > 0 ? cut : null);
  });
  shadeSeen(frame, lens, surfaces, parts, fine);
  surfaces.forEach((surface, i) => {
    if (surface.hides) return;
    const shown = parts[surface.part]!;
    coverTriangles(frame, shown.screen, surface, i + 1, (pixel, column, row, corner) => {
      shadeAt(surface, shown, lens, corner, column, row, shaded);
      if (shaded[3]! >= surface.least) layOver(frame.color, 4 * pixel);
      return false;
    });
  });
}

/** Neighbours of one surface whose distances differ by less than this share are one piece of it. */
const SAME_DISTANCE = 0.004;

/**
 * Shades what is nearest in each pixel. Unless it is to be fine, those of each four pixels that show one piece of a
 * surface are shaded once; where an edge runs through them it stays as fine as it is.
 */
function shadeSeen(
  frame: Frame,
  lens: Lens,
  surfaces: readonly Surface[],
  parts: readonly Shown[],
  fine: boolean,
): void {
  const { width, height, surface, near, corner, color } = frame;
  const words = new Uint32Array(color.buffer);
  for (let row = 0, pixel = 0; row < height; row++)
    for (let column = 0; column < width; column++, pixel++) {
      const id = surface[pixel]!;
      if (id === 0) continue;
      const like = fine ? -1 : shadedBeside(pixel, column, row);
      if (like >= 0) {
        words[pixel] = words[like]!;
        continue;
      }
      const of = surfaces[id - 1]!;
      shadeAt(of, parts[of.part]!, lens, corner[pixel]!, column, row, shaded);
      const at = 4 * pixel;
      color[at] = encoded(shaded[0]!);
      color[at + 1] = encoded(shaded[1]!);
      color[at + 2] = encoded(shaded[2]!);
      color[at + 3] = 255;
    }

  /** A pixel of the same four that shows the same piece and was shaded before; -1 for none. */
  function shadedBeside(pixel: number, column: number, row: number): number {
    if (column & 1 && isOne(pixel, pixel - 1)) return pixel - 1;
    if (!(row & 1)) return -1;
    if (isOne(pixel, pixel - width)) return pixel - width;
    const across = pixel - width + (column & 1 ? -1 : 1);
    return (column & 1 || column + 1 < width) && isOne(pixel, across) ? across : -1;
  }
  function isOne(a: number, b: number): boolean {
    return surface[a] === surface[b] && Math.abs(near[a]! - near[b]!) < SAME_DISTANCE * near[a]!;
  }
}

/** What was shaded last, over what stands there (Porter & Duff 1984). */
function layOver(color: Uint8ClampedArray, at: number): void {
  const over = shaded[3]!;
  const under = (color[at + 3]! / 255) * (1 - over);
  const whole = over + under;
  for (let k = 0; k < 3; k++) color[at + k] = (over * encoded(shaded[k]!) + under * color[at + k]!) / whole;
  color[at + 3] = 255 * whole;
}
