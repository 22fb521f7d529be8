import { encode as encodePng } from "fast-png";
import jpeg from "jpeg-js";
import { boxPart, characterWith } from "../../../tests/helpers/characters";
import { DEFAULT_MATERIAL, type Character } from "../../model/character";
import type { TextureUse } from "../../names/textureWords";
import { makeMaps } from "./makeMaps";
import { matchTextures } from "./matchTextures";
import { dropMap, setMaterials, takeMaps } from "./setMaterials";
import { readPixels } from "./shrinkImage";

const grey = (size: number, at: (x: number, y: number) => number): Uint8Array =>
  encodePng({
    width: size,
    height: size,
    channels: 1,
    data: Uint8Array.from({ length: size * size }, (_, i) => at(i % size, Math.floor(i / size))),
  });
const rgb = (size: number, colour: readonly [number, number, number]): Uint8Array =>
  encodePng({
    width: size,
    height: size,
    channels: 3,
    data: Uint8Array.from({ length: 3 * size * size }, (_, i) => colour[i % 3]!),
  });

const figure = (): Character => {
  const named = (name: string, material: number, kind: "body" | "hair" | "lash" | "garment") => {
    const part = boxPart(name, [0.1, 0.1, 0.1], [0, material, 0], kind);
    return { ...part, groups: part.groups.map((g) => ({ ...g, material })) };
  };
  return {
    ...characterWith(named("body", 0, "body")),
    parts: [
      named("body", 0, "body"),
      named("body under cloth", 1, "body"),
      named("hair", 2, "hair"),
      named("lashes left", 3, "lash"),
      named("top", 4, "garment"),
    ],
    materials: ["skin", "covered skin", "hair", "lash", "top cloth"].map((name) => ({ ...DEFAULT_MATERIAL, name })),
  };
};
const image = { name: "", bytes: grey(4, () => 100) };
const match = (...names: string[]): readonly (readonly [TextureUse | null, string | null])[] =>
  matchTextures(
    figure(),
    names.map((name) => ({ ...image, name })),
  ).matches.map((m) => [m.use, m.material] as const);

describe("images matched to materials", () => {
  it("by the words of their names, in any spelling", () => {
    expect(
      match(
        "T_Skin_BC.png",
        "oda_eyelashes_opacity.png",
        "Hair-Normal-DirectX.png",
        "shirt_roughness.png",
        "covered_skin_ao.png",
        "body_rough.png",
      ),
    ).toEqual([
      ["base colour", "skin"],
      ["opacity", "lash"],
      ["normal, green down", "hair"],
      ["roughness", "top cloth"],
      ["occlusion", "covered skin"],
      ["roughness", "skin"],
    ]);
  });

  it("words that every file has say nothing", () => {
    expect(match("hair_set_skin_color.png", "hair_set_top_color.png", "hair_set_lash_color.png")).toEqual([
      ["base colour", "skin"],
      ["base colour", "top cloth"],
      ["base colour", "lash"],
    ]);
  });

  it("one material alone takes what names no other", () => {
    const one = { ...figure(), materials: [figure().materials[0]!], parts: [figure().parts[0]!] };
    expect(matchTextures(one, [{ ...image, name: "diffuse.png" }]).matches[0]).toMatchObject({
      use: "base colour",
      material: "skin",
    });
  });

  it("what no word speaks for is left open, and says so", () => {
    const { matches } = matchTextures(figure(), [
      { ...image, name: "lantern_color.png" },
      { ...image, name: "hair_height.png" },
    ]);
    expect(matches[0]).toMatchObject({ use: "base colour", material: null, why: "nothing here is called lantern" });
    expect(matches[1]).toMatchObject({ use: null, why: "a height map has no place in a glTF material" });
  });

  it("of two files for one place the larger is taken, of tiles the first", () => {
    const { matches } = matchTextures(figure(), [
      { name: "hair_color.png", bytes: grey(2, () => 0) },
      { name: "hair_albedo.png", bytes: grey(8, () => 0) },
      { name: "skin_color_1002.png", bytes: grey(8, () => 0) },
      { name: "skin_color_1001.png", bytes: grey(2, () => 0) },
    ]);
    expect(matches.map((m) => m.use)).toEqual([null, "base colour", null, "base colour"]);
    expect(matches[0]!.why).toBe("hair_albedo.png is taken for this place");
    expect(matches[2]!.why).toMatch(/over several images is not read/);
  });

  it("a file that is no image is refused by name", () => {
    expect(matchTextures(figure(), [{ name: "skin_color.png", bytes: Uint8Array.of(1, 2, 3) }])).toMatchObject({
      matches: [],
      refused: [{ file: "skin_color.png" }],
    });
  });
});

const make = (files: readonly (readonly [TextureUse, Uint8Array])[], on: Character = figure()) =>
  makeMaps(
    on,
    files.map(([use, bytes]) => ({ file: `hair_${use}.png`, use, bytes, material: "hair" })),
  );
const pixelsOf = (made: ReturnType<typeof make>, slot: string) =>
  readPixels(made.maps.find((m) => m.slot === slot)!.bytes, slot).data;

describe("maps made of separate images (glTF 2.0, 3.9.2: roughness in green, metalness in blue)", () => {
  it("roughness and metalness go into one image, each at its place", () => {
    const made = make([
      ["roughness", grey(4, (x) => 10 * x)],
      ["metalness", grey(4, (_, y) => 20 * y)],
    ]);
    const data = pixelsOf(made, "metallic roughness");
    for (let i = 0; i < 16; i++) {
      expect(data[4 * i + 1]).toBe(10 * (i % 4));
      expect(data[4 * i + 2]).toBe(20 * Math.floor(i / 4));
    }
    expect(made.settings[0]).toMatchObject({ roughness: 1, metallic: 1 });
  });

  it("roughness alone leaves the material as metallic as it was", () => {
    const made = make([["roughness", grey(4, () => 90)]]);
    expect([...pixelsOf(made, "metallic roughness").slice(0, 3)]).toEqual([255, 90, 255]);
    const after = setMaterials(takeMaps(figure(), made.maps), made.settings).materials[2]!;
    expect(after).toMatchObject({ roughness: 1, metallic: 0 });
  });

  it("gloss is roughness turned", () => {
    expect(pixelsOf(make([["gloss", grey(4, () => 200)]]), "metallic roughness")[1]).toBe(55);
  });

  it("a smaller image is drawn to the size of the larger", () => {
    const made = make([
      ["roughness", grey(8, () => 70)],
      ["metalness", grey(2, (x) => 200 * x)],
    ]);
    const data = pixelsOf(made, "metallic roughness");
    expect(data).toHaveLength(4 * 64);
    const row = Array.from({ length: 8 }, (_, x) => data[4 * x + 2]!);
    expect(row[0]).toBe(0);
    expect(row[7]).toBe(200);
    expect([...row].sort((a, b) => a - b)).toEqual(row);
    expect(row[3]! + row[4]!).toBe(200);
  });

  it("a normal map whose green points down is turned, one whose green points up is left byte by byte", () => {
    const bytes = rgb(4, [128, 30, 255]);
    expect([...pixelsOf(make([["normal, green down", bytes]]), "normal").slice(0, 3)]).toEqual([128, 225, 255]);
    expect(make([["normal", bytes]]).maps[0]!.bytes).toBe(bytes);
  });

  it("opacity goes into the base colour's alpha: cut off where it is full or nothing, else blended", () => {
    const hard = make([
      ["base colour", rgb(4, [80, 60, 40])],
      ["opacity", grey(4, (x) => (x < 2 ? 0 : 255))],
    ]);
    expect([...pixelsOf(hard, "base colour").slice(0, 16)]).toEqual([0, 0, 255, 255].flatMap((a) => [80, 60, 40, a]));
    expect(hard.settings[0]).toMatchObject({ opacity: "mask", baseColor: [1, 1, 1] });
    const soft = make([["opacity", grey(4, (x) => 80 * x)]]);
    expect(soft.settings[0]).toEqual({ material: "hair", opacity: "blend" });
    expect([...pixelsOf(soft, "base colour").slice(4, 8)]).toEqual([255, 255, 255, 80]);
  });

  it("opacity alone keeps the base colour that is there", () => {
    const on = figure();
    const texture = { name: "old", mimeType: "image/png", bytes: rgb(4, [9, 8, 7]) };
    const textured = { ...on, materials: on.materials.map((m) => ({ ...m, texture })) };
    expect([...pixelsOf(make([["opacity", grey(4, () => 128)]], textured), "base colour").slice(0, 4)]).toEqual([
      9, 8, 7, 128,
    ]);
  });

  it("a packed image serves as occlusion too where its red says anything", () => {
    const slots = (red: number): string[] =>
      make([["occlusion, roughness, metalness", rgb(4, [red, 100, 0])]]).maps.map((m) => m.slot);
    expect(slots(200)).toEqual(["metallic roughness", "occlusion"]);
    expect(slots(0)).toEqual(["metallic roughness"]);
  });

  it("a JPEG stays one", () => {
    const bytes = new Uint8Array(jpeg.encode({ width: 8, height: 8, data: new Uint8Array(256).fill(128) }, 90).data);
    expect(make([["base colour", bytes]]).maps[0]).toMatchObject({ mimeType: "image/jpeg", bytes });
  });
});

describe("materials set by hand", () => {
  it("many at once; what is not said stays", () => {
    const set = setMaterials(figure(), [
      { material: "lash", opacity: "blend", doubleSided: true },
      { material: "hair", opacity: "mask", alphaCutoff: 0.3 },
    ]);
    expect(set.materials[3]).toEqual({ ...DEFAULT_MATERIAL, name: "lash", opacity: "blend", doubleSided: true });
    expect(set.materials[2]).toEqual({ ...DEFAULT_MATERIAL, name: "hair", opacity: "mask", alphaCutoff: 0.3 });
    expect(set.materials[0]).toEqual({ ...DEFAULT_MATERIAL, name: "skin" });
  });

  it("a map can be left out; an unknown material is refused", () => {
    const made = make([["normal", rgb(4, [128, 128, 255])]]);
    const with1 = takeMaps(figure(), made.maps);
    expect(with1.materials[2]!.maps).toHaveLength(1);
    expect(dropMap(with1, "hair", "normal").materials[2]!.maps).toEqual([]);
    expect(() => setMaterials(figure(), [{ material: "beard" }])).toThrow(/no material named beard/);
  });
});
