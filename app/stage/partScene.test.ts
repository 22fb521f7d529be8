import type { BufferAttribute } from "three";
import { DoubleSide } from "three";
import { boxPart, characterWith, shapeOf } from "../../tests/helpers/characters";
import { LiveDeform } from "~core/deform/liveDeform";
import { makeRig } from "~core/deform/rig";
import { REST_MOMENT } from "~core/evaluate/moment";
import { DEFAULT_MATERIAL, type Character, type Material } from "~core/model/character";
import {
  disposePartScene,
  loadTextures,
  makePartScene,
  setLook,
  showDeformed,
  type LookOptions,
  type PartScene,
} from "./partScene";
import { PLAIN } from "./materialLook";
import { makeLoaded } from "../session/session";

const NATURAL: LookOptions = { clay: false, wires: false, dressed: true, heat: null };
const PNG = Uint8Array.from([
  0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 0x20, 0, 0, 0, 0x10, 0, 8,
  2, 0, 0, 0,
]);
const material = (name: string, extra: Partial<Material> = {}): Material => ({ ...DEFAULT_MATERIAL, name, ...extra });
/** A box of two materials: two faces red, four white; a garment over it. */
const figure = (extra: Partial<Character> = {}): Character =>
  characterWith({
    materials: [
      material("red", { baseColor: [1, 0, 0, 1] }),
      material("covered skin", { baseColor: [1, 1, 1, 1] }),
      material("cloth", { baseColor: [0, 0, 1, 0.5], opacity: "blend", doubleSided: true }),
    ],
    parts: [
      {
        ...boxPart("skin"),
        groups: [
          { material: 0, faceStart: 0, faceCount: 2 },
          { material: 1, faceStart: 2, faceCount: 4 },
        ],
      },
      {
        ...boxPart("shirt", [0.6, 0.6, 0.6], [0, 0, 0], "garment"),
        groups: [{ material: 2, faceStart: 0, faceCount: 6 }],
      },
    ],
    shapes: [shapeOf("taller", { 7: [0, 1, 0] })],
    ...extra,
  });
const liveOf = (character: Character): { live: LiveDeform; scene: PartScene } => {
  const live = new LiveDeform(makeRig(character));
  return { live, scene: makePartScene(makeRig(character), live.deformed) };
};
const sceneOf = (character: Character): PartScene => liveOf(character).scene;
const values = (scene: PartScene, part: number, name: string): number[] =>
  Array.from((scene.parts[part]!.mesh.geometry.getAttribute(name) as BufferAttribute).array);

describe("what is drawn of a character", () => {
  it("is a mesh a part, its triangles in runs of one material", () => {
    const { parts } = sceneOf(figure());
    expect(parts.map((p) => p.mesh.name)).toEqual(["skin", "shirt"]);
    expect(parts[0]!.mesh.geometry.groups).toEqual([
      { start: 0, count: 12, materialIndex: 0 },
      { start: 12, count: 24, materialIndex: 1 },
    ]);
    expect(parts[1]!.mesh.material[0]).toMatchObject({ transparent: true, opacity: 0.5, side: DoubleSide });
  });
  it("moves with the character and is lit by its normals", () => {
    const character = figure();
    const { live, scene } = liveOf(character);
    showDeformed(scene, live.update(makeRig(character), { ...REST_MOMENT, weights: { taller: 1 } }));
    expect(values(scene, 0, "position")[3 * 7 + 1]).toBe(1.5);
    expect(values(scene, 0, "normal")).toEqual(Array.from(live.deformed.normals[0]!));
  });
  it("is coloured by its materials and vertices, as clay, or by a measured field", () => {
    const coloured = figure({
      parts: [{ ...figure().parts[0]!, colors: Float32Array.from({ length: 32 }, (_, i) => (i % 4 === 1 ? 0.5 : 1)) }],
    });
    const scene = sceneOf(coloured);
    setLook(scene, coloured, NATURAL);
    expect(values(scene, 0, "color").slice(0, 3)).toEqual([1, 0.5, 1]);
    setLook(scene, coloured, { ...NATURAL, clay: true });
    expect(new Set(values(scene, 0, "color")).size).toBe(3);
    const heat = Float32Array.from({ length: 24 }, (_, i) => i / 24);
    setLook(scene, coloured, { ...NATURAL, heat: [heat] });
    expect(values(scene, 0, "color")).toEqual(Array.from(heat));
    setLook(scene, coloured, { ...NATURAL, heat: [null] });
    expect(new Set(values(scene, 0, "color")).size).toBe(3);
    // what stands there already is not written again
    const { version } = scene.parts[0]!.mesh.geometry.getAttribute("color") as BufferAttribute;
    setLook(scene, coloured, { ...NATURAL, clay: true });
    expect((scene.parts[0]!.mesh.geometry.getAttribute("color") as BufferAttribute).version).toBe(version);
  });
  it("keeps the colours of two materials apart where they share vertices, and lays neither over clay", () => {
    const character = figure();
    const scene = sceneOf(character);
    const shown = (): (readonly number[])[] => scene.parts[0]!.mesh.material.map((m) => m.color.toArray());
    setLook(scene, character, NATURAL);
    expect(shown()).toEqual([
      [1, 0, 0],
      [1, 1, 1],
    ]);
    expect(new Set(values(scene, 0, "color"))).toEqual(new Set([1]));
    setLook(scene, character, { ...NATURAL, clay: true });
    expect(shown()).toEqual([
      [1, 1, 1],
      [1, 1, 1],
    ]);
  });
  it("leaves out covered skin while clothes are on, and the clothes when they are off", () => {
    const character = figure();
    const scene = sceneOf(character);
    setLook(scene, character, NATURAL);
    expect(scene.parts[0]!.mesh.material.map((m) => m.visible)).toEqual([true, false]);
    expect(scene.parts[1]!.mesh.visible).toBe(true);
    setLook(scene, character, { ...NATURAL, dressed: false });
    expect(scene.parts[0]!.mesh.material.map((m) => m.visible)).toEqual([true, true]);
    expect(scene.parts[1]!.mesh.visible).toBe(false);
  });
  it("shows each polygon edge once as a wire, over the same places", () => {
    const character = figure();
    const scene = sceneOf(character);
    const { wires, mesh } = scene.parts[0]!;
    expect(wires.visible).toBe(false);
    setLook(scene, character, { ...NATURAL, wires: true });
    expect(wires.geometry.index!.count).toBe(2 * 12);
    expect(wires.geometry.getAttribute("position")).toBe(mesh.geometry.getAttribute("position"));
  });
  it("draws vertices of hard edges several times, in place and colour as their own", () => {
    const sides = Uint32Array.from({ length: 24 }, (_, k) => 1 + (k >> 2));
    const character = figure({ parts: [{ ...figure().parts[0]!, cornerLook: { groups: sides, uvs: null } }] });
    const { live, scene } = liveOf(character);
    showDeformed(scene, live.update(makeRig(character), { ...REST_MOMENT, weights: { taller: 1 } }));
    setLook(scene, character, { ...NATURAL, heat: [Float32Array.from({ length: 24 }, (_, i) => i)] });
    const [P, C] = [values(scene, 0, "position"), values(scene, 0, "color")];
    expect(P.length).toBe(3 * 24);
    scene.parts[0]!.copies.forEach((v, i) => {
      expect(P.slice(3 * (8 + i), 3 * (9 + i))).toEqual(P.slice(3 * v, 3 * v + 3));
      expect(C.slice(3 * (8 + i), 3 * (9 + i))).toEqual(C.slice(3 * v, 3 * v + 3));
    });
  });
});

describe("textures on the stage", () => {
  const decoded: { resizeWidth?: number }[] = [];
  beforeAll(
    () =>
      void Object.assign(globalThis, {
        createImageBitmap: async (blob: Blob, options: { resizeWidth?: number }) => {
          if (blob.type === "image/jpeg") throw new Error("broken");
          decoded.push(options);
          return { width: 1, height: 1, close: () => {} };
        },
      }),
  );
  afterAll(() => void delete (globalThis as { createImageBitmap?: unknown }).createImageBitmap);
  const textured = (mimeType = "image/png", bytes = PNG.slice()): Character =>
    figure({
      materials: [
        material("red", { texture: { name: "a", mimeType, bytes } }),
        material("white", { texture: { name: "a", mimeType, bytes }, opacity: "mask", alphaCutoff: 0.3 }),
      ],
      parts: [{ ...figure().parts[0]!, uvs: new Float32Array(16) }],
    });
  it("are decoded once, made smaller where very large, and shown in the natural look alone", async () => {
    const character = textured();
    const scene = sceneOf(character);
    expect(await loadTextures(scene, character)).toBe(true);
    expect(decoded.length).toBe(1);
    // 8192 x 4096 in the picture's head
    expect(decoded[0]).toMatchObject({ resizeWidth: 2048, resizeHeight: 1024 });
    setLook(scene, character, NATURAL);
    const [a, b] = scene.parts[0]!.mesh.material;
    expect(a!.map).not.toBe(PLAIN);
    expect(a!.map).toBe(b!.map);
    expect(a!.map!.flipY).toBe(false);
    expect(b!.alphaTest).toBe(0.3);
    for (const look of [
      { ...NATURAL, clay: true },
      { ...NATURAL, heat: [null] },
    ]) {
      setLook(scene, character, look);
      expect(scene.parts[0]!.mesh.material.map((m) => m.map)).toEqual([PLAIN, PLAIN]);
    }
    disposePartScene(scene);
  });
  it("that are blended are drawn in two passes: solid parts that hide, then a fringe that hides nothing", async () => {
    const character = figure({
      materials: [
        material("red", { texture: { name: "a", mimeType: "image/png", bytes: PNG.slice() }, opacity: "blend" }),
        material("white"),
      ],
      parts: [{ ...figure().parts[0]!, uvs: new Float32Array(16) }],
    });
    const scene = sceneOf(character);
    const { mesh, fringe } = scene.parts[0]!;
    await loadTextures(scene, character);
    setLook(scene, character, NATURAL);
    expect([mesh.material[0]!.transparent, mesh.material[0]!.depthWrite]).toEqual([false, true]);
    expect(mesh.material[0]!.alphaTest).toBeGreaterThan(0.9);
    expect(fringe!.renderOrder).toBeGreaterThan(mesh.renderOrder);
    expect(fringe!.geometry).toBe(mesh.geometry);
    expect(fringe!.material.map((m) => m.visible)).toEqual([true, false]);
    expect([fringe!.material[0]!.transparent, fringe!.material[0]!.depthWrite]).toEqual([true, false]);
    expect(fringe!.material[0]!.map).toBe(mesh.material[0]!.map);
    setLook(scene, character, { ...NATURAL, clay: true });
    expect(fringe!.material.map((m) => m.visible)).toEqual([false, false]);
    expect(mesh.material[0]!.alphaTest).toBe(0);
    disposePartScene(scene);
    // blended by its colour alone, or cut off: one pass
    for (const of of [
      material("red", { opacity: "blend", baseColor: [1, 0, 0, 0.4] }),
      material("red", { texture: { name: "a", mimeType: "image/png", bytes: PNG.slice() }, opacity: "mask" }),
    ]) {
      const plain = { ...character, materials: [of, material("white")] };
      expect(sceneOf(plain).parts[0]!.fringe).toBeNull();
    }
  });
  it("of other maps than colour are shown too, and change with the material", async () => {
    const normal = { name: "n", mimeType: "image/png", bytes: PNG.slice(), slot: "normal" as const, strength: 0.5 };
    const character = figure({
      materials: [material("red", { maps: [normal] }), material("white")],
      parts: [{ ...figure().parts[0]!, uvs: new Float32Array(16) }],
    });
    const scene = sceneOf(character);
    expect(await loadTextures(scene, character)).toBe(true);
    setLook(scene, character, NATURAL);
    const [a, b] = scene.parts[0]!.mesh.material;
    expect(a!.normalMap).not.toBeNull();
    expect(a!.normalScale.toArray()).toEqual([0.5, -0.5]);
    expect([a!.map, b!.normalMap]).toEqual([PLAIN, null]);
    // the same parts with bare materials are drawn without coordinates: the rig is made anew for them
    const bare = { ...character, materials: character.materials.map((m) => ({ ...m, maps: [] })) };
    const loaded = makeLoaded(character, "a", null);
    expect(makeLoaded(bare, "b", loaded).rig.drawn[0]!.uvs).toBeNull();
    expect(makeLoaded({ ...character }, "b", loaded).rig.drawn).toBe(loaded.rig.drawn);
    disposePartScene(scene);
  });
  it("that the browser cannot read, or for which the part has no coordinates, are left out", async () => {
    const broken = textured("image/jpeg");
    expect(await loadTextures(sceneOf(broken), broken)).toBe(false);
    const bare = { ...textured(), parts: [figure().parts[0]!] };
    expect(await loadTextures(sceneOf(bare), bare)).toBe(false);
  });
});
