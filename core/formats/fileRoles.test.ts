import { readFileSync } from "node:fs";
import { extensionsThat, FORMATS, formatOf, formatsTable } from "./formats";
import { chooseBase, possibleRoles, proposeRoles } from "./fileRoles";

const sized = (files: Readonly<Record<string, number>>): string[] =>
  proposeRoles(Object.entries(files).map(([name, size]) => ({ name, size })));

describe("what each file is taken for", () => {
  it("the largest GLB is the character, other meshes go with it, BVH is a clip", () =>
    expect(sized({ "hat.glb": 10, "person.glb": 90, "scarf.obj": 400, "walk.bvh": 5, "notes.txt": 1 })).toEqual([
      "goes with it",
      "character",
      "goes with it",
      "clip",
      "left out",
    ]));
  it("a VRM counts as a GLB", () => expect(sized({ "a.vrm": 50, "b.glb": 20 })).toEqual(["character", "goes with it"]));
  it("without a GLB an OBJ is the base and the others its targets", () =>
    expect(sized({ "smile.obj": 9, "neutral.obj": 9, "frown.OBJ": 9 })).toEqual(["target", "character", "target"]));
  it("clips alone have no character", () => expect(sized({ "a.bvh": 9, "b.bvh": 9 })).toEqual(["clip", "clip"]));
});
describe("the base of OBJ files", () => {
  it.each([
    [["kit_a.obj", "kit.obj", "kit_b.obj"], "kit.obj"],
    [["zeta.obj", "base.obj", "alpha.obj"], "base.obj"],
    [["b.obj", "a.obj"], "a.obj"],
    [["database.obj", "a_rest.obj"], "a_rest.obj"],
  ])("of %j is %s", (names, base) => expect(chooseBase(names.map((name) => ({ name }))).name).toBe(base));
});
it.each([
  ["a.GLB", 3],
  ["a.obj", 4],
  ["a.bvh", 2],
  ["a", 1],
  ["a.zip", 1],
])("%s can be %d things", (name, n) => expect(possibleRoles(name).length).toBe(n));

describe("the table of formats", () => {
  it("docs/formats.md is as the formats have it (npm run docs writes it anew)", () =>
    expect(readFileSync("docs/formats.md", "utf8")).toContain(`\n\n${formatsTable()}\n\n`));
  it("no extension stands twice, and what can be taken in can be read", () => {
    const all = FORMATS.flatMap((f) => f.extensions);
    expect(new Set(all).size).toBe(all.length);
    for (const f of FORMATS)
      if (f.roles.length && f.holds !== "beside an OBJ")
        expect([f.name, Boolean(f.character ?? f.clip)]).toEqual([f.name, true]);
    expect(formatOf("A.B.Vrm")!.name).toBe("VRM 1.0");
    expect(formatOf("glb")).toBeUndefined();
  });
  it("says in words what can be written", () =>
    expect(extensionsThat((f) => f.writeMesh !== undefined)).toBe(".obj, .ply, .stl or .json"));
});
