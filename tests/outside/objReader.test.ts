import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { type BufferGeometry, type Mesh, type MeshPhongMaterial } from "three";
import { MTLLoader } from "three/examples/jsm/loaders/MTLLoader.js";
import { OBJLoader } from "three/examples/jsm/loaders/OBJLoader.js";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { readLibraries, writeLibrary } from "../../core/formats/obj/materialLibrary";
import { characterFromObj, readObj } from "../../core/formats/obj/readObj";
import { writeObj } from "../../core/formats/obj/writeObj";
import { triangulate, type Character, type Part } from "../../core/model/character";
import { drawnPart } from "../../core/model/drawnPart";

// Debian assimp-testmodels, read in place; three's OBJLoader and MTLLoader are the independent readers
const MODELS = "/usr/share/assimp/models/OBJ";
const read = (name: string): { text: string; character: Character } => {
  const bytes = readFileSync(path.join(MODELS, name));
  const obj = readObj(bytes, name);
  const beside = obj.libraries.map((l) => ({ name: l, bytes: readFileSync(path.join(MODELS, l)) }));
  return {
    text: bytes.toString("latin1"),
    character: characterFromObj(obj, name, readLibraries(obj.libraries, beside)),
  };
};

/** Corners of all triangles as three reads them: place, texture coordinate (V from the top), normal. */
function cornersOfThree(text: string): { P: number[]; uv: number[]; N: number[] } {
  const out = { P: [] as number[], uv: [] as number[], N: [] as number[] };
  new OBJLoader().parse(text).traverse((o) => {
    const g = (o as Mesh).geometry as BufferGeometry | undefined;
    if (!g?.getAttribute("position")) return;
    out.P.push(...g.getAttribute("position").array);
    const uv = g.getAttribute("uv");
    // pieces without any are put at the origin, as corners without one are
    for (let k = 0; k < g.getAttribute("position").count; k++)
      out.uv.push(uv ? uv.getX(k) : 0, uv ? Math.fround(1 - uv.getY(k)) : 1);
    const n = g.getAttribute("normal");
    if (n) out.N.push(...n.array);
  });
  return out;
}

/** The same of a part as it is drawn and written. */
function cornersOfPart(whole: Part, character: Character): { P: number[]; uv: number[]; N: number[] } {
  const { part } = drawnPart(whole, "all");
  const { triangles } = triangulate(part);
  const rig = makeRig({ ...character, parts: [whole] });
  const { normals } = deform(rig, REST_MOMENT);
  const rows = (of: Float32Array, at: Uint32Array, size: number): number[] =>
    Array.from(at).flatMap((v) => Array.from(of.subarray(size * v, size * v + size)));
  return {
    P: rows(part.positions, triangles, 3),
    uv: part.uvs ? rows(part.uvs, triangles, 2) : [],
    N: rows(normals[0]!, rig.drawn[0]!.triangles, 3),
  };
}
/** Degrees between normals, pair by pair; pairs in which one has no length are left out. */
const angles = (A: readonly number[], B: readonly number[]): number[] =>
  Array.from({ length: A.length / 3 }, (_, k) => {
    const dot = [0, 1, 2].reduce((s, c) => s + A[3 * k + c]! * B[3 * k + c]!, 0);
    return (
      (180 / Math.PI) *
      Math.acos(Math.min(1, dot / Math.hypot(...A.slice(3 * k, 3 * k + 3)) / Math.hypot(...B.slice(3 * k, 3 * k + 3))))
    );
  }).filter((x) => !Number.isNaN(x));

describe("corners of real OBJ files, against three's OBJLoader", () => {
  it("spider.obj: every place and every texture coordinate of its seams, and its hard edges", () => {
    const { text, character } = read("spider.obj");
    const theirs = cornersOfThree(text);
    const ours = cornersOfPart(character.parts[0]!, character);
    expect(ours.P).toEqual(theirs.P);
    expect(ours.uv.length).toBe(theirs.uv.length);
    ours.uv.forEach((x, i) => expect(Math.abs(x - theirs.uv[i]!)).toBeLessThan(1e-6));
    // its exporter weighed faces in another way than by area: the normals agree but for that
    const off = angles(ours.N, theirs.N).sort((a, b) => a - b);
    expect(off[Math.floor(0.5 * off.length)]).toBeLessThan(5);
    expect(off.length).toBeGreaterThan(0.97 * (ours.N.length / 3));
    // with every edge smooth they would not
    const round = angles(
      cornersOfPart(
        { ...character.parts[0]!, cornerLook: { groups: null, uvs: character.parts[0]!.cornerLook!.uvs } },
        character,
      ).N,
      theirs.N,
    );
    const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
    expect(mean(off)).toBeLessThan(0.6 * mean(round));
  });
  it("regr01.obj has seams and no normals", () => {
    const { text, character } = read("regr01.obj");
    const theirs = cornersOfThree(text);
    const ours = cornersOfPart(character.parts[0]!, character);
    expect(ours.P).toEqual(theirs.P);
    // three puts corners without a coordinate at its origin; here they take another one of their vertex
    let compared = 0;
    for (let k = 0; k < ours.uv.length; k += 2) {
      if (theirs.uv[k] === 0 && theirs.uv[k + 1] === 1) continue;
      compared++;
      expect(Math.hypot(ours.uv[k]! - theirs.uv[k]!, ours.uv[k + 1]! - theirs.uv[k + 1]!)).toBeLessThan(1e-6);
    }
    expect(compared).toBeGreaterThan(500);
  });
  it.each(["cube_usemtl.obj", "cube_with_vertexcolors.obj"])("%s: six faces of a cube, each flat", (name) => {
    const { text, character } = read(name);
    expect(Math.max(...angles(cornersOfPart(character.parts[0]!, character).N, cornersOfThree(text).N))).toBeLessThan(
      0.1,
    );
  });
  it("cube_with_vertexcolors.obj: colours of its vertices, sRGB made linear as three does", () => {
    const { text, character } = read("cube_with_vertexcolors.obj");
    const mesh = new OBJLoader().parse(text).children.find((o) => (o as Mesh).isMesh) as Mesh;
    const theirs = mesh.geometry.getAttribute("color");
    const part = character.parts[0]!;
    const { triangles } = triangulate(part);
    triangles.forEach((v, k) =>
      [theirs.getX(k), theirs.getY(k), theirs.getZ(k)].forEach((x, c) =>
        expect(part.colors![4 * v + c]).toBeCloseTo(x, 5),
      ),
    );
  });
});

describe("what is written, read by others", () => {
  it("spider.obj written again: three reads the same corners and the same hard edges", () => {
    const { text, character } = read("spider.obj");
    const again = cornersOfThree(
      writeObj(
        character,
        character.parts.map((p) => p.positions),
      ),
    );
    const first = cornersOfThree(text);
    expect(again.P.length).toBe(first.P.length);
    const sorted = (c: { P: number[]; uv: number[] }): string[] =>
      Array.from(
        { length: c.P.length / 3 },
        (_, k) =>
          `${c.P.slice(3 * k, 3 * k + 3).join()} ${c.uv
            .slice(2 * k, 2 * k + 2)
            .map((x) => x.toFixed(3))
            .join()}`,
      ).sort();
    expect(sorted(again)).toEqual(sorted(first));
  });
  it("as GLB: assimp counts a vertex for every corner that looks different", async () => {
    const { character } = read("spider.obj");
    const file = path.join(mkdtempSync(path.join(tmpdir(), "obj-")), "spider.glb");
    writeFileSync(file, await writeGlb(character));
    const info = execFileSync("assimp", ["info", file, "-r"], { encoding: "utf8" });
    const split = drawnPart(character.parts[0]!, "all").part;
    expect(Number(/Faces:\s+(\d+)/.exec(info)![1])).toBe(1368);
    // each of the primitives holds the vertices of the whole part
    expect(Number(/Vertices:\s+(\d+)/.exec(info)![1]) % (split.positions.length / 3)).toBe(0);
  });
  it("libraries: three's MTLLoader takes from ours the colours and images that it takes from the file's own", () => {
    const own = readFileSync(path.join(MODELS, "spider.mtl"), "utf8");
    const { character } = read("spider.obj");
    const png = Uint8Array.from([
      0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 0, 4, 0, 0, 0, 4, 8, 2,
      0, 0, 0,
    ]);
    const images = ["wal67ar_small.jpg", "SpiderTex.jpg", "drkwood2.jpg", "engineflare1.jpg", "wal69ar_small.jpg"].map(
      (name) => ({ name: `.\\${name}`, bytes: png }),
    );
    const { materials, notes } = readLibraries(
      ["spider.mtl"],
      [{ name: "spider.mtl", bytes: new TextEncoder().encode(own) }, ...images],
    );
    expect(notes).toEqual([]);
    const written = writeLibrary({ ...character, materials: [...materials.values()] }, "spider", (m) => m.name);
    const info = (text: string): Record<string, { kd?: string[]; d?: string; map_kd?: string }> =>
      new MTLLoader().parse(text, "").materialsInfo as never;
    const [theirs, ours] = [info(own), info(written.files[0]!.data as string)];
    expect(Object.keys(ours)).toEqual(Object.keys(theirs));
    for (const name of Object.keys(theirs)) {
      theirs[name]!.kd?.forEach((x, c) => expect(Number(ours[name]!.kd![c])).toBeCloseTo(Number(x), 4));
      expect(Boolean(ours[name]!.map_kd)).toBe(Boolean(theirs[name]!.map_kd));
    }
    const loader = new MTLLoader().parse(own, "");
    for (const m of materials.values()) {
      if (m.texture) continue;
      const colour = (loader.create(m.name) as MeshPhongMaterial).color;
      [colour.r, colour.g, colour.b].forEach((x, c) => expect(m.baseColor[c]).toBeCloseTo(x, 4));
    }
  });
});
