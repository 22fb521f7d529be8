import { decode as decodePng } from "fast-png";

/** Pixels row by row from the top, 8 bits a channel, RGBA. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Reads a PNG to 8 bits RGBA; 16 bits are rounded. @throws whatever is wrong with it. */
export function readPng(bytes: Uint8Array): Pixels {
  const image = decodePng(bytes);
  const { width, height, depth } = image;
  const { palette } = image;
  const channels = palette ? 1 : image.channels;
  if (depth === 8 && !palette)
    return { width, height, data: spread(image.data as Uint8Array, width * height, image.channels) };
  const data = new Uint8Array(4 * width * height);
  const scale = depth === 16 ? 257 : (2 ** depth - 1) / 255;
  for (let i = 0; i < width * height; i++) {
    const at = (c: number): number => {
      if (palette) return palette[sample(image.data, i, depth, width)]?.[c] ?? 255;
      const packed = channels * depth < 8;
      return Math.round((packed ? sample(image.data, i, depth, width) : image.data[channels * i + c]!) / scale);
    };
    const grey = !palette && channels < 3;
    for (let c = 0; c < 3; c++) data[4 * i + c] = at(grey ? 0 : c);
    data[4 * i + 3] = palette || channels === 4 ? at(3) : channels === 2 ? at(1) : 255;
  }
  return { width, height, data };
}

/** 8 bits a channel of one to four channels as RGBA. */
function spread(from: Uint8Array, count: number, channels: number): Uint8Array {
  if (channels === 4) return from;
  const out = new Uint8Array(4 * count).fill(255);
  const words = new Uint32Array(out.buffer);
  const alpha = new Uint8Array(Uint32Array.of(0xff).buffer)[0] === 0xff ? 0xff000000 : 0xff;
  const little = alpha !== 0xff;
  if (channels === 3 && little)
    for (let i = 0, k = 0; i < count; i++, k += 3)
      words[i] = (from[k]! | (from[k + 1]! << 8) | (from[k + 2]! << 16) | alpha) >>> 0;
  else
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) out[4 * i + c] = from[channels * i + (channels < 3 ? 0 : c)]!;
      if (channels === 2) out[4 * i + 3] = from[2 * i + 1]!;
    }
  return out;
}

/** One sample of less than or just 8 bits; rows begin on a byte. */
function sample(data: ArrayLike<number>, i: number, depth: number, width: number): number {
  if (depth >= 8) return data[i]!;
  const perByte = 8 / depth;
  const row = Math.floor(i / width);
  const x = i % width;
  return (
    (data[row * Math.ceil(width / perByte) + Math.floor(x / perByte)]! >> (8 - depth * ((x % perByte) + 1))) &
    (2 ** depth - 1)
  );
}
