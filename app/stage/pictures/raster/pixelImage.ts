import { toLinear } from "~core/math/srgb";

/** One size of an image: RGBA of 8 bits, row by row from the top. */
interface Level {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray | Uint8Array;
}
/** An image to be sampled: as it is, and halved again and again down to one pixel. */
export interface PixelImage {
  readonly levels: readonly Level[];
}

const LINEAR = Float32Array.from({ length: 256 }, (_, i) => toLinear(i / 255));
const PLAIN = Float32Array.from({ length: 256 }, (_, i) => i / 255);

/** The mean of four pixels each. */
function halved({ width, height, data }: Level): Level {
  const w = Math.max(1, width >> 1);
  const h = Math.max(1, height >> 1);
  const out = new Uint8ClampedArray(4 * w * h);
  for (let y = 0; y < h; y++) {
    const upper = 4 * width * Math.min(2 * y, height - 1);
    const lower = 4 * width * Math.min(2 * y + 1, height - 1);
    for (let x = 0; x < w; x++) {
      const i = 8 * x;
      const j = 4 * Math.min(2 * x + 1, width - 1);
      const k = 4 * (y * w + x);
      for (let c = 0; c < 4; c++)
        out[k + c] =
          (data[upper + i + c]! + data[upper + j + c]! + data[lower + i + c]! + data[lower + j + c]! + 2) >> 2;
    }
  }
  return { width: w, height: h, data: out };
}

export function pixelImage(level: Level): PixelImage {
  const levels = [level];
  for (let last = level; last.width > 1 || last.height > 1; levels.push(last)) last = halved(last);
  return { levels };
}

/**
 * The level whose pixels are about as large as those of the picture.
 *
 * @param texels of the image in one pixel, by area.
 */
export function levelFor(texels: number, count: number): number {
  let level = 0;
  for (let left = texels; left > 2 && level < count - 1; left /= 4) level++;
  return level;
}

/**
 * The image at a texture coordinate, between its four nearest pixels; it repeats.
 *
 * @param u 0..1 from the left. @param v 0..1 from the top.
 * @param light colours as linear light (sRGB, IEC 61966-2-1); else the numbers themselves. Opacity is never changed.
 * @param out four numbers 0..1.
 */
export function sample(
  { levels }: PixelImage,
  level: number,
  u: number,
  v: number,
  light: boolean,
  out: Float64Array,
): void {
  const { width, height, data } = levels[level]!;
  const table = light ? LINEAR : PLAIN;
  const x = (u - Math.floor(u)) * width - 0.5;
  const y = (v - Math.floor(v)) * height - 0.5;
  const left = Math.floor(x);
  const top = Math.floor(y);
  const fx = x - left;
  const fy = y - top;
  const x0 = left < 0 ? width - 1 : left;
  const x1 = left + 1 >= width ? 0 : left + 1;
  const upper = width * (top < 0 ? height - 1 : top);
  const lower = width * (top + 1 >= height ? 0 : top + 1);
  const a = 4 * (upper + x0);
  const b = 4 * (upper + x1);
  const c = 4 * (lower + x0);
  const d = 4 * (lower + x1);
  const wa = (1 - fx) * (1 - fy);
  const wb = fx * (1 - fy);
  const wc = (1 - fx) * fy;
  const wd = fx * fy;
  out[0] = wa * table[data[a]!]! + wb * table[data[b]!]! + wc * table[data[c]!]! + wd * table[data[d]!]!;
  out[1] =
    wa * table[data[a + 1]!]! + wb * table[data[b + 1]!]! + wc * table[data[c + 1]!]! + wd * table[data[d + 1]!]!;
  out[2] =
    wa * table[data[a + 2]!]! + wb * table[data[b + 2]!]! + wc * table[data[c + 2]!]! + wd * table[data[d + 2]!]!;
  out[3] = (wa * data[a + 3]! + wb * data[b + 3]! + wc * data[c + 3]! + wd * data[d + 3]!) / 255;
}
