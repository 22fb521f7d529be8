import { encode as encodePng } from "fast-png";
import { DoubleSide, FrontSide, type Mesh, type MeshStandardMaterial, type Texture } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { makeMaps } from "../../core/edits/textures/makeMaps";
import { matchTextures } from "../../core/edits/textures/matchTextures";
import { setMaterials, takeMaps } from "../../core/edits/textures/setMaterials";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { DEFAULT_MATERIAL, type Character } from "../../core/model/character";
import { boxPart, rigidSkin, tube } from "../helpers/characters";
import { threeInNode, type ReadPicture } from "../helpers/threeInNode";

/**
 * Textures that came as files of their own, matched, made into maps and written, read back by three.js (npm three, its
 * own glTF loader): the same maps stand on the same materials, pixel by pixel.
 */
threeInNode();

const SIDE = 8;
const image = (channels: 1 | 3, at: (x: number, y: number) => readonly number[]): Uint8Array =>
  encodePng({
    width: SIDE,
    height: SIDE,
    channels,
    data: Uint8Array.from(Array.from({ length: SIDE * SIDE }, (_, i) => at(i % SIDE, Math.floor(i / SIDE))).flat()),
  });

/** A limb, lashes and a coat with texture coordinates, and materials without any texture. */
function bare(): Character {
  const limb = tube({ rings: 5, sides: 8 });
  const withUvs = (part: Character["parts"][number], material: number): Character["parts"][number] => ({
    ...part,
    uvs: Float32Array.from({ length: (2 * part.positions.length) / 3 }, (_, i) => (i % 7) / 7),
    groups: part.groups.map((g) => ({ ...g, material })),
  });
  return {
    ...limb,
    parts: [
      withUvs(limb.parts[0]!, 0),
      withUvs({ ...boxPart("lashes", [0.02, 0.02, 0.02], [0, 1, 0], "lash"), skin: rigidSkin(8, 1) }, 1),
      withUvs({ ...boxPart("coat", [0.2, 0.2, 0.2], [0, 0.5, 0], "garment"), skin: rigidSkin(8, 1) }, 2),
    ],
    materials: ["skin", "lash", "coat cloth"].map((name) => ({ ...DEFAULT_MATERIAL, name })),
  };
}

const files = [
  { name: "T_Skin_Albedo.png", bytes: image(3, (x, y) => [200 - x, 150, 100 + y]) },
  { name: "skin-normal-directx.png", bytes: image(3, (x, y) => [128 + x, 100 + y, 250]) },
  { name: "Skin Roughness.png", bytes: image(1, (x) => [100 + x]) },
  { name: "body_metal.png", bytes: image(1, (_, y) => [10 * y]) },
  { name: "skin_ao.png", bytes: image(1, (x, y) => [200 + x + y]) },
  { name: "eyelashes_BaseColor.png", bytes: image(3, () => [30, 20, 15]) },
  { name: "eyelashes_Opacity.png", bytes: image(1, (x) => [30 * x]) },
  { name: "Coat_ORM.png", bytes: image(3, (x, y) => [240 - x, 120 + y, 7]) },
  { name: "coat_emissive.png", bytes: image(3, (x) => [x, 0, 0]) },
  { name: "coat_cutout.png", bytes: image(1, (x) => [x < 4 ? 0 : 255]) },
];

const character = bare();
const { matches } = matchTextures(character, files);
const made = makeMaps(
  character,
  matches.map((m, i) => ({ file: m.file, bytes: files[i]!.bytes, use: m.use!, material: m.material! })),
);
const dressed = setMaterials(setMaterials(takeMaps(character, made.maps), made.settings), [
  { material: "coat cloth", alphaCutoff: 0.3, doubleSided: true },
]);
const gltf = await new GLTFLoader().parseAsync((await writeGlb(dressed)).slice().buffer, "");
const seen = new Map<string, MeshStandardMaterial>();
gltf.scene.traverse((o) => {
  const { material } = o as Mesh;
  if (material) seen.set((material as MeshStandardMaterial).name, material as MeshStandardMaterial);
});
const pixel = (texture: Texture | null, x: number, y: number): number[] => {
  const { width, channels, data } = texture!.image as ReadPicture;
  return Array.from({ length: channels }, (_, c) => data[channels * (y * width + x) + c]!);
};

describe("separate textures, in three.js", () => {
  it("every file found its material and its use", () => {
    expect(matches.map((m) => [m.use, m.material])).toEqual([
      ["base colour", "skin"],
      ["normal, green down", "skin"],
      ["roughness", "skin"],
      ["metalness", "skin"],
      ["occlusion", "skin"],
      ["base colour", "lash"],
      ["opacity", "lash"],
      ["occlusion, roughness, metalness", "coat cloth"],
      ["emissive", "coat cloth"],
      ["opacity", "coat cloth"],
    ]);
    expect([...seen.keys()].sort()).toEqual(["coat cloth", "lash", "skin"]);
  });

  it("skin: colour, normal with green up, roughness in green and metalness in blue, occlusion", () => {
    const skin = seen.get("skin")!;
    expect(skin.roughnessMap).toBe(skin.metalnessMap);
    expect([skin.roughness, skin.metalness]).toEqual([1, 1]);
    for (const [x, y] of [
      [0, 0],
      [5, 2],
      [7, 7],
    ] as const) {
      expect(pixel(skin.map, x, y)).toEqual([200 - x, 150, 100 + y]);
      expect(pixel(skin.normalMap, x, y)).toEqual([128 + x, 155 - y, 250]);
      expect(pixel(skin.roughnessMap, x, y).slice(1, 3)).toEqual([100 + x, 10 * y]);
      expect(pixel(skin.aoMap, x, y)[0]).toBe(200 + x + y);
    }
    expect([skin.transparent, skin.alphaTest, skin.side]).toEqual([false, 0, FrontSide]);
  });

  it("lashes: opacity in the colour's alpha, blended", () => {
    const lash = seen.get("lash")!;
    expect(pixel(lash.map, 3, 1)).toEqual([30, 20, 15, 90]);
    expect([lash.transparent, lash.alphaTest, lash.normalMap]).toEqual([true, 0, null]);
  });

  it("coat: one packed image for occlusion, roughness and metalness; cut off at what was set, both sides", () => {
    const coat = seen.get("coat cloth")!;
    for (const map of [coat.aoMap, coat.roughnessMap, coat.metalnessMap])
      expect(pixel(map, 6, 3)).toEqual([234, 123, 7]);
    expect(pixel(coat.emissiveMap, 4, 0)).toEqual([4, 0, 0]);
    expect(coat.emissive.getHex()).toBe(0xffffff);
    expect(pixel(coat.map, 2, 2)[3]).toBe(0);
    expect(pixel(coat.map, 5, 2)[3]).toBe(255);
    expect([coat.transparent, coat.alphaTest, coat.side]).toEqual([false, 0.3, DoubleSide]);
  });
});
