import { encode as encodePng } from "fast-png";
import jpeg from "jpeg-js";
import { boxPart, characterWith } from "../../../tests/helpers/characters";
import { runChecks } from "../../checks/runChecks";
import { PROFILES } from "../../checks/profile";
import { imageSize } from "../../formats/imageSize";
import { mend, mendSentence } from "../../checks/mend";
import { DEFAULT_MATERIAL, type Character } from "../../model/character";
import { applyRepair, repairChanges } from "../repairs/repairs";
import { readPixels, shrinkImage, shrinkPixels } from "./shrinkImage";
import type { Pixels } from "./readPng";
import { applyStep } from "../../ledger/applyStep";
import { blobsOfStep, stepSchema } from "../../ledger/steps";
import { madeTextures, takeTextures } from "./madeTextures";
import { shrinkTextures, textureBytes, textureSide } from "./shrinkTextures";

const filled = (
  width: number,
  height: number,
  at: (x: number, y: number) => readonly [number, number, number, number],
): Pixels => ({
  width,
  height,
  data: Uint8Array.from(Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))).flat()),
});
const pixel = ({ width, data }: Pixels, x: number, y: number): number[] => [
  ...data.slice(4 * (y * width + x), 4 * (y * width + x) + 4),
];

describe("pixels averaged down", () => {
  it("leave one colour as it is, at any ratio", () => {
    const small = shrinkPixels(
      filled(37, 23, () => [200, 40, 3, 255]),
      10,
      7,
    );
    for (let i = 0; i < 70; i++) expect([...small.data.slice(4 * i, 4 * i + 4)]).toEqual([200, 40, 3, 255]);
  });
  it(
    "average in linear light: black and white in equal parts are " +
      "188, not 128 (IEC 61966-2-1: 0.5 of the light is code 187.5)",
    () => {
      expect(
        pixel(
          shrinkPixels(
            filled(2, 2, (x, y) => ((x + y) % 2 ? [255, 255, 255, 255] : [0, 0, 0, 255])),
            1,
            1,
          ),
          0,
          0,
        ),
      ).toEqual([188, 188, 188, 255]);
    },
  );
  it("do not bleed the colour of what is transparent", () => {
    expect(
      pixel(
        shrinkPixels(
          filled(2, 1, (x) => (x ? [0, 255, 0, 0] : [250, 10, 10, 255])),
          1,
          1,
        ),
        0,
        0,
      ),
    ).toEqual([250, 10, 10, 128]);
  });
  it("count shares of pixels where the ratio is no whole number", () => {
    // three to two: the first new pixel covers the first and half of the second, so two thirds and one third of the
    // light
    const [r] = pixel(
      shrinkPixels(
        filled(3, 1, (x) => (x === 1 ? [255, 255, 255, 255] : [0, 0, 0, 255])),
        2,
        1,
      ),
      0,
      0,
    );
    expect(r).toBe(Math.round(255 * (1.055 * (1 / 3) ** (1 / 2.4) - 0.055)));
  });
  it("keep their place: a bright half stays on its side", () => {
    const small = shrinkPixels(
      filled(64, 64, (x, y) => [x < 32 ? 255 : 0, y < 32 ? 255 : 0, 0, 255]),
      8,
      8,
    );
    expect(pixel(small, 0, 7)).toEqual([255, 0, 0, 255]);
    expect(pixel(small, 7, 0)).toEqual([0, 255, 0, 255]);
  });
});

describe("pictures in files", () => {
  const picture = filled(96, 48, (x, y) => [2 * x, 4 * y, 90, 255]);
  const png = encodePng({ ...picture, channels: 4 });
  const jpg = new Uint8Array(jpeg.encode({ ...picture, data: picture.data }, 95).data);
  it.each([
    ["PNG", png],
    ["JPEG", jpg],
  ])("%s: the longer side comes down, the format stays, the colours too", (_what, bytes) => {
    const small = shrinkImage(bytes, 24, "skin");
    expect(imageSize(small)).toEqual({ width: 24, height: 12 });
    expect(small[0]).toBe(bytes[0]);
    const [r, g, b] = pixel(readPixels(small, "skin"), 12, 6);
    for (const [got, expected] of [
      [r!, 99],
      [g!, 102],
      [b!, 90],
    ] as const)
      expect(Math.abs(got - expected)).toBeLessThan(8);
  });
  it("are the same bytes when they are no larger", () => expect(shrinkImage(png, 96, "skin")).toBe(png));
  it.each([
    ["grey", { channels: 1, depth: 8 as const, data: Uint8Array.of(10, 200) }, [10, 10, 10, 255]],
    ["grey with opacity", { channels: 2, depth: 8 as const, data: Uint8Array.of(10, 30, 200, 255) }, [10, 10, 10, 30]],
    ["16 bits", { channels: 3, depth: 16 as const, data: Uint16Array.of(65535, 257, 0, 0, 0, 0) }, [255, 1, 0, 255]],
  ])("of other kinds are read: %s", (_what, image, first) =>
    expect(pixel(readPixels(encodePng({ width: 2, height: 1, ...image }), "x"), 0, 0)).toEqual(first),
  );
  it.each([
    ["cut short", png.slice(0, 60)],
    ["of another format", Uint8Array.of(82, 73, 70, 70, 0, 0, 0, 0)],
  ])("%s are refused with what to do", (_what, bytes) =>
    expect(() => readPixels(bytes, "skin")).toThrow(/could not be decoded/),
  );
});

describe("a character's textures", () => {
  const bytes = encodePng({ ...filled(5000, 4, () => [9, 9, 9, 255]), channels: 4 });
  const texture = { name: "t", mimeType: "image/png", bytes };
  const character: Character = characterWith({
    parts: [boxPart("body", [0.2, 0.85, 0.2], [0, 0.85, 0])],
    materials: [
      { ...DEFAULT_MATERIAL, name: "a", texture },
      { ...DEFAULT_MATERIAL, name: "b", texture },
      { ...DEFAULT_MATERIAL, name: "c" },
    ],
  });
  it("shared by materials are made smaller once and stay shared", () => {
    const small = shrinkTextures(character, 1000);
    expect(small.materials.map(textureSide)).toEqual([1000, 1000, 0]);
    expect(small.materials[0]!.texture!.bytes).toBe(small.materials[1]!.texture!.bytes);
    expect(textureBytes(small)).toBe(small.materials[0]!.texture!.bytes.length);
    expect(character.materials[0]!.texture!.bytes).toBe(bytes);
  });
  it("tell how much of them is done, never less than before, each by its size", () => {
    const other = { ...texture, bytes: encodePng({ ...filled(2500, 4, () => [1, 2, 3, 255]), channels: 4 }) };
    const told: number[] = [];
    shrinkTextures(
      { ...character, materials: [character.materials[0]!, { ...character.materials[1]!, texture: other }] },
      100,
      null,
      (share) => told.push(share),
    );
    expect(told).toEqual([...told].sort((a, b) => a - b));
    expect(told[told.length - 1]).toBeCloseTo(1);
    // the first has four times the pixels of the second
    expect(told).toContainEqual(expect.closeTo(0.8, 6));
  });
  it("over the profile's limit are found and mended with one click", async () => {
    const found = (await runChecks(character, PROFILES.realtime, { only: ["parts.texture-size"] })).findings;
    expect(found.map((f) => [f.part, f.value])).toContainEqual(["body", 5000]);
    expect(mendSentence(found[0]!)).toContain("4096");
    expect(textureSide(mend(character, found[0]!).materials[0]!)).toBe(4096);
  });
  it("as a repair tell what changes, and are refused when there is nothing to do", () => {
    const after = applyRepair(character, { what: "textures", longest: 512 });
    expect(repairChanges(character, after).map((c) => [c.of, c.before, c.after])).toContainEqual([
      "longest texture side, px",
      5000,
      512,
    ]);
    expect(() => applyRepair(character, { what: "textures", longest: 8000 })).toThrow(/No texture is larger/);
  });
});

describe("textures that a step made", () => {
  const large = encodePng({ width: 64, height: 64, channels: 3, data: new Uint8Array(3 * 64 * 64).fill(90) });
  const texture = { name: "skin", mimeType: "image/png", bytes: large };
  const character: Character = characterWith({
    parts: [boxPart()],
    materials: [
      { ...DEFAULT_MATERIAL, texture },
      { ...DEFAULT_MATERIAL, name: "plain" },
      { ...DEFAULT_MATERIAL, name: "again", texture },
    ],
  });
  it("are taken in its place, the same bytes for materials that shared one", () => {
    const after = shrinkTextures(character, 16);
    const made = madeTextures(character, after)!;
    expect(made.map((m) => m.material)).toEqual([0, 2]);
    expect(takeTextures(character, made)).toEqual(after);
    expect(() => takeTextures(character, [{ material: 1, bytes: large }])).toThrow(/no textured material 1/);
  });
  it("are none where a repair did anything else", () => {
    expect(madeTextures(character, applyRepair(character, { what: "triangulate", part: "box" }))).toBeNull();
    expect(madeTextures(character, character)).toEqual([]);
  });
  it("stand in the ledger's step: nothing is decoded again", () => {
    const small = shrinkTextures(character, 16).materials[0]!.texture!.bytes;
    const broken: Character = {
      ...character,
      materials: character.materials.map((m) =>
        m.texture ? { ...m, texture: { ...m.texture, bytes: Uint8Array.of(1, 2, 3) } } : m,
      ),
    };
    const step = stepSchema.parse({
      op: "repair",
      repair: { what: "textures", longest: 16 },
      made: [
        { material: 0, blob: "a".repeat(64) },
        { material: 2, blob: "a".repeat(64) },
      ],
    });
    expect(blobsOfStep(step)).toEqual(["a".repeat(64), "a".repeat(64)]);
    expect(applyStep(broken, step, () => small).materials.map((m) => m.texture?.bytes)).toEqual([
      small,
      undefined,
      small,
    ]);
  });
});
