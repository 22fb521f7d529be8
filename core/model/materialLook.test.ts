import { WebIO } from "@gltf-transform/core";
import validator from "gltf-validator";
import { deflateSync } from "node:zlib";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { characterWith, partOf, shapeOf } from "../../tests/helpers/characters";
import { DEFAULT_MATERIAL, type Character, type Material } from "./character";
import { imagesOf, sameLook } from "./materialLook";

/** A PNG of one pixel (PNG specification, W3C 2003), grey of a level. */
function pixel(level: number): Uint8Array {
  const table = Array.from({ length: 256 }, (_, n) =>
    Array.from({ length: 8 }).reduce<number>((c) => (c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1), n),
  );
  const crc = (bytes: readonly number[]): number =>
    ~bytes.reduce((c, b) => table[(c ^ b) & 255]! ^ (c >>> 8), ~0) >>> 0;
  const word = (n: number): number[] => [24, 16, 8, 0].map((s) => (n >>> s) & 255);
  const chunk = (type: string, data: readonly number[]): number[] => {
    const body = [...Array.from(type, (c) => c.charCodeAt(0)), ...data];
    return [...word(data.length), ...body, ...word(crc(body))];
  };
  return Uint8Array.from([
    137,
    80,
    78,
    71,
    13,
    10,
    26,
    10,
    ...chunk("IHDR", [...word(1), ...word(1), 8, 0, 0, 0, 0]),
    ...chunk("IDAT", [...deflateSync(Uint8Array.from([0, level]))]),
    ...chunk("IEND", []),
  ]);
}
const [skin, bumps, shade, glow] = [200, 128, 90, 30].map(pixel) as [Uint8Array, Uint8Array, Uint8Array, Uint8Array];
const image = (bytes: Uint8Array, name: string): { name: string; mimeType: string; bytes: Uint8Array } => ({
  name,
  mimeType: "image/png",
  bytes,
});
const rich: Material = {
  ...DEFAULT_MATERIAL,
  name: "skin",
  texture: image(skin, "skin"),
  emissive: [0.1, 0.2, 0.3],
  maps: [
    { ...image(bumps, "bumps"), slot: "normal", strength: 0.7 },
    { ...image(shade, "shade"), slot: "metallic roughness", strength: 1 },
    { ...image(shade, "shade"), slot: "occlusion", strength: 0.5 },
    { ...image(glow, "glow"), slot: "emissive", strength: 1 },
  ],
};
const square = {
  ...partOf(
    "square",
    [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
    ],
    [[0, 1, 2, 3]],
  ),
  uvs: Float32Array.of(0, 0, 1, 0, 1, 1, 0, 1),
};
const character: Character = characterWith({
  parts: [square],
  materials: [rich],
  shapes: [shapeOf("fold", { 1: [0, 0, 0.5], 2: [0, 0, 0.5] })],
});

describe("the textures of a material", () => {
  it("go through a GLB with what each is for and how strongly, an image of two uses once", async () => {
    const bytes = await writeGlb(character);
    const { issues } = await validator.validateBytes(bytes);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const document = await new WebIO().readBinary(bytes);
    expect(document.getRoot().listTextures()).toHaveLength(4);
    // a normal map needs tangents; where the sheet is folded up they lean with it
    const [primitive] = document.getRoot().listMeshes()[0]!.listPrimitives();
    expect(
      primitive!
        .getAttribute("TANGENT")!
        .getElement(0, [] as number[])
        .map((x) => Number(x.toFixed(5))),
    ).toEqual([1, 0, 0, 1]);
    const lean = primitive!
      .listTargets()[0]!
      .getAttribute("TANGENT")!
      .getElement(0, [] as number[]);
    expect([1 + lean[0]!, lean[2]!].map((x) => Number(x.toFixed(4)))).toEqual([0.8944, 0.4472]);
    const back = (await readGlb(bytes, "square.glb")).materials[0]!;
    expect(back.maps!.map(({ slot, strength, name }) => [slot, Number(strength.toFixed(6)), name])).toEqual([
      ["normal", 0.7, "bumps"],
      ["metallic roughness", 1, "shade"],
      ["occlusion", 0.5, "shade"],
      ["emissive", 1, "glow"],
    ]);
    expect(back.maps!.map((m) => Array.from(m.bytes))).toEqual(rich.maps!.map((m) => Array.from(m.bytes)));
    back.emissive!.forEach((x, i) => expect(x).toBeCloseTo(rich.emissive![i]!, 6));
    const plain = (await readGlb(await writeGlb({ ...character, materials: [DEFAULT_MATERIAL] }), "plain.glb"))
      .materials[0]!;
    expect(
      (await new WebIO().readBinary(await writeGlb({ ...character, materials: [DEFAULT_MATERIAL] })))
        .getRoot()
        .listMeshes()[0]!
        .listPrimitives()[0]!
        .getAttribute("TANGENT"),
    ).toBeNull();
    expect([plain.maps, plain.emissive]).toEqual([undefined, undefined]);
  });
  it("are part of its look, beside its settings; its name is not", () => {
    expect(imagesOf(rich)).toEqual([skin, bumps, shade, shade, glow]);
    expect(sameLook(rich, { ...rich, name: "other" })).toBe(true);
    expect(sameLook(rich, { ...rich, maps: rich.maps!.slice(1) })).toBe(false);
    expect(sameLook(rich, { ...rich, maps: rich.maps!.map((m) => ({ ...m, strength: 0.1 })) })).toBe(false);
    expect(sameLook(rich, { ...rich, texture: image(pixel(201), "skin") })).toBe(false);
    expect(sameLook(DEFAULT_MATERIAL, { ...DEFAULT_MATERIAL, roughness: 0.1 })).toBe(false);
  });
});
