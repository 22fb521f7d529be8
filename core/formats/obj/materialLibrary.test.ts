import { boxPart, characterWith } from "../../../tests/helpers/characters";
import { toLinear, toSrgb } from "../../math/srgb";
import { DEFAULT_MATERIAL, type Material } from "../../model/character";
import { isUserError } from "../../model/userError";
import { proposeRoles } from "../fileRoles";
import { readDelivery } from "../../intake/readDelivery";
import { writeGlb } from "../glb/writeGlb";
import { readLibraries, texturesOf, writeLibrary } from "./materialLibrary";
import { characterFromObj, readObj } from "./readObj";
import { writeObj } from "./writeObj";

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const PNG = Uint8Array.from([
  0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 0, 4, 0, 0, 0, 4, 8, 2, 0,
  0, 0,
]);
const lib = (text: string, ...images: string[]): ReturnType<typeof readLibraries> =>
  readLibraries(
    ["a.mtl"],
    [{ name: "folder/a.mtl", bytes: bytes(text) }, ...images.map((name) => ({ name, bytes: PNG }))],
  );

describe("material libraries", () => {
  it("give colour as sRGB, opacity, roughness from the exponent or as said", () => {
    const { materials } = lib(
      "newmtl skin tone\nKd 0.5 1 0\nd 0.25\nNs 98\nnewmtl metal\nKd 1\nPr 0.3\nPm 1\nTr 0.25\nKe 0 0.5 0\n",
    );
    const skin = materials.get("skin tone")!;
    // 0.5 in sRGB is 0.21404 linear (IEC 61966-2-1)
    expect(skin.baseColor[0]).toBeCloseTo(0.21404, 5);
    expect([...skin.baseColor.slice(1)]).toEqual([1, 0, 0.25]);
    expect(skin.opacity).toBe("blend");
    expect(skin.roughness).toBeCloseTo(Math.sqrt(2 / 100), 6);
    expect(materials.get("metal")).toMatchObject({ baseColor: [1, 1, 1, 0.75], roughness: 0.3, metallic: 1 });
    expect(materials.get("metal")!.emissive![1]).toBeCloseTo(0.21404, 5);
  });
  it("find their images behind any options, in names with spaces and in other folders", () => {
    const text =
      "newmtl a\nmap_Kd -s 1 1 1 -o 0.5 0 Textures\\my skin.PNG\nnorm " +
      "-bm 0.5 bump.png\nmap_Ke glow.png\nmap_d my skin.png\n";
    expect(texturesOf(bytes(text), "a.mtl")).toEqual(["Textures\\my skin.PNG", "bump.png", "glow.png", "my skin.png"]);
    const { materials, notes } = lib(text, "x/My Skin.png", "bump.png", "glow.png");
    expect(notes).toEqual([]);
    expect(materials.get("a")).toMatchObject({
      texture: { name: "My Skin", mimeType: "image/png" },
      opacity: "mask",
      baseColor: [1, 1, 1, 1],
    });
    expect(materials.get("a")!.maps!.map((m) => m.slot)).toEqual(["normal", "emissive"]);
  });
  it("tell what did not come, once, and what is no image that can be kept", () => {
    expect(lib("newmtl a\nmap_Kd skin.tga\nnewmtl b\nmap_Kd skin.tga\n").notes).toEqual([
      "Texture skin.tga did not come with the OBJ; its material is shown without it.",
    ]);
    expect(
      readLibraries(
        ["a.mtl"],
        [
          { name: "a.mtl", bytes: bytes("newmtl a\nmap_Kd b.tga") },
          { name: "b.tga", bytes: bytes("tga") },
        ],
      ).notes[0],
    ).toMatch(/neither PNG nor JPEG/);
    expect(readLibraries(["b.mtl"], []).notes[0]).toMatch(/b\.mtl did not come/);
  });
  it("that are broken are refused with the line", () => {
    try {
      lib("# fine\nKd 1 1 1\n");
      throw new Error("read");
    } catch (error) {
      if (!isUserError(error)) throw error;
      expect(error.message).toMatch(/a\.mtl, line 2.*before any material/);
    }
  });
  it("come back as they were written, images by name", () => {
    for (let x = 0; x <= 1; x += 0.05) expect(toLinear(toSrgb(x))).toBeCloseTo(x, 9);
    const image = { name: "skin of oda", mimeType: "image/png", bytes: PNG };
    const skin: Material = {
      ...DEFAULT_MATERIAL,
      name: "skin",
      baseColor: [0.2, 0.4, 0.6, 1],
      roughness: 0.35,
      metallic: 0.1,
      texture: image,
      emissive: [0.1, 0, 0],
      maps: [
        { ...image, slot: "normal", strength: 1 },
        { ...image, slot: "occlusion", strength: 1 },
      ],
    };
    const glass: Material = { ...DEFAULT_MATERIAL, name: "glass", baseColor: [1, 1, 1, 0.3], opacity: "blend" };
    const character = characterWith({ name: "oda", parts: [boxPart()], materials: [skin, glass] });
    const { files, leftOut } = writeLibrary(character, "oda", (m) => m.name);
    expect(files.map((f) => f.name)).toEqual(["oda.mtl", "oda-skin_of_oda.png"]);
    expect(leftOut).toEqual(["skin of oda (occlusion of skin)"]);
    const back = readLibraries(
      ["oda.mtl"],
      files.map((f) => ({ name: f.name, bytes: typeof f.data === "string" ? bytes(f.data) : f.data })),
    ).materials;
    expect(back.get("glass")).toMatchObject({ opacity: "blend", roughness: DEFAULT_MATERIAL.roughness });
    const s = back.get("skin")!;
    expect(s).toMatchObject({ roughness: 0.35, metallic: 0.1, texture: { bytes: PNG } });
    s.baseColor.forEach((x, i) => expect(x).toBeCloseTo(skin.baseColor[i]!, 5));
    expect(s.maps!.map((m) => m.slot)).toEqual(["normal"]);
  });
});

describe("an OBJ with its library", () => {
  const obj = "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl red\nf 1 2 3\nusemtl unknown\nf 3 2 1\n";
  const files = [
    { name: "skin.png", bytes: PNG },
    { name: "base.obj", bytes: bytes(obj) },
    { name: "a.mtl", bytes: bytes("newmtl red\nKd 1 0 0\nmap_Kd skin.png\n") },
  ];
  it("is taken in whole from a drop in any order, and goes on into a GLB", async () => {
    expect(proposeRoles(files.map((f) => ({ name: f.name, size: f.bytes.length })))).toEqual([
      "goes with it",
      "character",
      "goes with it",
    ]);
    for (const dropped of [
      files,
      files.map((f, i) => ({ ...f, role: (i === 1 ? "character" : "goes with it") as never })),
    ]) {
      const { character } = await readDelivery(dropped);
      expect(character.materials.map((m) => [m.name, m.baseColor[1], m.texture?.name ?? null])).toEqual([
        ["red", 0, "skin"],
        ["unknown", 0.8, null],
      ]);
      expect(character.notes).toEqual([]);
      expect((await writeGlb(character)).length).toBeGreaterThan(200);
    }
  });
  it("may name several libraries on one line, or one with spaces in its name", () => {
    const named = (line: string): readonly string[] =>
      readObj(bytes(obj.replace("mtllib a.mtl", line)), "a.obj").libraries;
    expect(named("mtllib a.mtl b.MTL")).toEqual(["a.mtl", "b.MTL"]);
    expect(named("mtllib my skin.mtl")).toEqual(["my skin.mtl"]);
  });
  it("that stays out is told; images beside a GLB alone are told too", async () => {
    expect((await readDelivery([files[1]!])).character.notes[0]).toMatch(/a\.mtl did not come/);
    const glb = await writeGlb(characterWith({ parts: [boxPart()] }));
    expect((await readDelivery([{ name: "c.glb", bytes: glb }, files[0]!])).character.notes[0]).toMatch(
      /skin\.png came without an OBJ: textures are matched under Intake/,
    );
  });
  it("comes with a hat that goes along", async () => {
    const hat = obj.replace("mtllib a.mtl", "mtllib hat.mtl\no hat").replaceAll("red", "felt");
    const { character } = await readDelivery([
      ...files.map((f, i) => ({ ...f, role: (i === 1 ? "character" : "goes with it") as never })),
      { name: "hat.obj", bytes: bytes(hat), role: "goes with it" as const },
      { name: "hat.mtl", bytes: bytes("newmtl felt\nKd 0 0 1\n"), role: "goes with it" as const },
    ]);
    expect(character.parts.length).toBe(2);
    expect(character.materials.find((m) => m.name === "felt")!.baseColor.slice(0, 3)).toEqual([0, 0, 1]);
  });
  it("keeps colours of vertices, and drops them where some have none", () => {
    const coloured = characterFromObj(
      readObj(bytes("v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 0 1 0 0 0 0.5\nf 1 2 3\n"), "c.obj"),
      "c.obj",
    );
    expect(coloured.parts[0]!.colors![10]).toBeCloseTo(0.21404, 5);
    readObj(bytes(writeObj(coloured, [coloured.parts[0]!.positions])), "c.obj").colors!.forEach((x, i) =>
      expect(x).toBeCloseTo(coloured.parts[0]!.colors![i]!, 4),
    );
    const some = "v 0 0 0 1 0 0\nv 1 0 0\nv 0 1 0 0 0 0.5\no a\nf 1 2 3\n";
    const colorsIn = (text: string): boolean[] =>
      characterFromObj(readObj(bytes(text), "c.obj"), "c.obj").parts.map((p) => p.colors !== null);
    expect(colorsIn(some)).toEqual([false]);
    // each object by itself
    expect(colorsIn(`${some}v 5 0 0 1 1 1\nv 6 0 0 1 1 1\nv 5 1 0 1 1 1\no b\nf 4 5 6\n`)).toEqual([false, true]);
  });
});
