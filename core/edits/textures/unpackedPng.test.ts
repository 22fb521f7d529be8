import { encode } from "fast-png";
import fc from "fast-check";
import { readPng } from "./readPng";
import { unpackedPng } from "./unpackedPng";

const image = (width: number, height: number, channels: number, depth: 8 | 16, seed: number) => {
  const values = depth === 8 ? new Uint8Array(width * height * channels) : new Uint16Array(width * height * channels);
  for (let i = 0, x = seed + 1; i < values.length; i++) values[i] = x = (x * 16807) % 2147483647;
  return encode({ width, height, channels, depth, data: values });
};

test("an unpacked PNG shows the same pixels, whatever its kind", async () => {
  const size = fc.integer({ min: 1, max: 40 });
  const kinds = fc.record({
    width: size,
    height: size,
    channels: fc.integer({ min: 1, max: 4 }),
    depth: fc.constantFrom(8 as const, 16 as const),
    seed: fc.nat(1000),
  });
  await fc.assert(
    fc.asyncProperty(kinds, async ({ width, height, channels, depth, seed }) => {
      const png = image(width, height, channels, depth, seed);
      expect(readPng(await unpackedPng(png))).toEqual(readPng(png));
    }),
    { numRuns: 40 },
  );
});

test("pixels that fill several stored blocks are all there", async () => {
  const png = image(200, 150, 4, 8, 3);
  const unpacked = await unpackedPng(png);
  expect(unpacked.length).toBeGreaterThan(200 * 150 * 4);
  expect(readPng(unpacked)).toEqual(readPng(png));
});

test("pixels that cannot be unpacked, and a file that is cut off, are refused", async () => {
  const png = image(20, 20, 3, 8, 1);
  const spoilt = png.slice();
  spoilt.fill(0xaa, 45, 55);
  await expect(unpackedPng(spoilt)).rejects.toThrow();
  await expect(unpackedPng(png.slice(0, 40))).rejects.toThrow(RangeError);
});
