import { encode as encodePng } from "fast-png";
import jpeg from "jpeg-js";
import { isPng } from "../../formats/imageSize";
import { toLinear, toSrgb } from "../../math/srgb";
import { untold, within, type ShareDone } from "../../model/shareDone";
import { UserError } from "../../model/userError";
import { readPng, type Pixels } from "./readPng";

/** JPEG quality of 100 when a texture is written again (our own choice). */
const QUALITY = 92;

/** sRGB of 8 bits to linear light 0..1. */
const TO_LIGHT = Float64Array.from({ length: 256 }, (_, i) => toLinear(i / 255));
const fromLight = (x: number): number => Math.round(255 * toSrgb(x));

/**
 * Pixels averaged down to a smaller size by area: every new pixel is the mean of what it covers, shares of pixels
 * counted, in linear light and weighted by opacity,
 * so that neither brightness nor the colour at transparent edges drifts.
 */
export function shrinkPixels(
  { width, height, data }: Pixels,
  newWidth: number,
  newHeight: number,
  tell: ShareDone = untold,
): Pixels {
  const sums = new Float32Array(4 * newWidth * newHeight);
  const line = new Float32Array(4 * newWidth);
  const columns = shares(width, newWidth);
  const { at, to, share: parts } = packed(columns);
  // row by row, so that a large picture does not need a copy of itself in numbers
  for (const [y, newY, share] of shares(height, newHeight)) {
    line.fill(0);
    for (let n = 0; n < at.length; n++) {
      const i = 4 * (y * width + at[n]!);
      const k = 4 * to[n]!;
      const weight = (parts[n]! * data[i + 3]!) / 255;
      line[k]! += weight * TO_LIGHT[data[i]!]!;
      line[k + 1]! += weight * TO_LIGHT[data[i + 1]!]!;
      line[k + 2]! += weight * TO_LIGHT[data[i + 2]!]!;
      line[k + 3]! += weight;
    }
    const from = newY * line.length;
    for (let k = 0; k < line.length; k++) sums[from + k]! += share * line[k]!;
    tell((y + 1) / height);
  }
  const out = new Uint8Array(sums.length);
  for (let i = 0; i < sums.length; i += 4) {
    const alpha = sums[i + 3]!;
    for (let c = 0; c < 3; c++) out[i + c] = alpha > 0 ? fromLight(Math.min(1, sums[i + c]! / alpha)) : 0;
    out[i + 3] = Math.round(255 * alpha);
  }
  return { width: newWidth, height: newHeight, data: out };
}

const packed = (
  list: readonly (readonly [number, number, number])[],
): { at: Uint32Array; to: Uint32Array; share: Float32Array } => ({
  at: Uint32Array.from(list, (x) => x[0]),
  to: Uint32Array.from(list, (x) => x[1]),
  share: Float32Array.from(list, (x) => x[2]),
});

/** What each pixel of a line gives to each of a shorter line: index, new index, and its share of the new pixel. */
function shares(length: number, newLength: number): [number, number, number][] {
  const ratio = length / newLength;
  return Array.from({ length: newLength }, (_, x) => x).flatMap((x) => {
    const [a, b] = [x * ratio, Math.min(length, (x + 1) * ratio)];
    return Array.from({ length: Math.ceil(b - 1e-9) - Math.floor(a) }, (_, k): [number, number, number] => {
      const i = Math.floor(a) + k;
      return [i, x, (Math.min(b, i + 1) - Math.max(a, i)) / (b - a)];
    });
  });
}

/** Reads a PNG or JPEG to 8 bits RGBA; 16 bits are rounded. @throws UserError when it is neither or is broken. */
export function readPixels(bytes: Uint8Array, where: string): Pixels {
  try {
    if (!isPng(bytes)) {
      const { width, height, data } = jpeg.decode(bytes, {
        useTArray: true,
        formatAsRGBA: true,
        maxMemoryUsageInMB: 2048,
      });
      return { width, height, data };
    }
    return readPng(bytes);
  } catch {
    throw new UserError(
      "The texture could not be decoded.",
      where,
      "Only PNG and JPEG can be made smaller; export it anew.",
    );
  }
}

/**
 * How much is done when a picture is read, and when only writing it is left; as measured on pictures of 8192 pixels.
 */
const DONE = { jpeg: { read: 0.58, shrunk: 0.72 }, png: { read: 0.29, shrunk: 0.51 } } as const;

/**
 * A PNG or JPEG with its longer side brought down to so many pixels, in the same format; the same bytes when it is no
 * larger.
 */
export function shrinkImage(bytes: Uint8Array, longest: number, where: string, tell: ShareDone = untold): Uint8Array {
  const pixels = readPixels(bytes, where);
  const ratio = longest / Math.max(pixels.width, pixels.height);
  if (ratio >= 1) return bytes;
  const { read, shrunk } = DONE[isPng(bytes) ? "png" : "jpeg"];
  tell(read);
  const small = shrinkPixels(
    pixels,
    Math.max(1, Math.round(ratio * pixels.width)),
    Math.max(1, Math.round(ratio * pixels.height)),
    within(tell, read, shrunk),
  );
  const made = isPng(bytes)
    ? writePng(small)
    : new Uint8Array(jpeg.encode({ width: small.width, height: small.height, data: small.data }, QUALITY).data);
  tell(1);
  return made;
}

/** A PNG of 8 bits, with opacity only where there is any. */
export function writePng({ width, height, data }: Pixels): Uint8Array {
  let opaque = true;
  for (let i = 3; i < data.length && opaque; i += 4) opaque = data[i] === 255;
  if (!opaque) return encodePng({ width, height, channels: 4, data });
  const colours = new Uint8Array((data.length / 4) * 3);
  for (let i = 0, k = 0; i < data.length; i += 4, k += 3) {
    colours[k] = data[i]!;
    colours[k + 1] = data[i + 1]!;
    colours[k + 2] = data[i + 2]!;
  }
  return encodePng({ width, height, channels: 3, data: colours });
}
