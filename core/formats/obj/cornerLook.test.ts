import validator from "gltf-validator";
import fc from "fast-check";
import { boxPart, characterWith, shapeOf } from "../../../tests/helpers/characters";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { mendFaces } from "../../edits/mend/mendFaces";
import type { Character, Part } from "../../model/character";
import { groupOfEachFace } from "../../model/cornerLook";
import { drawnPart, splitCharacter } from "../../model/drawnPart";
import { reduceCharacter } from "../../edits/reduce/reduceCharacter";
import { triangulatePart, weldPart } from "../../edits/repairs/refaceParts";
import { readGlb } from "../glb/readGlb";
import { writeGlb } from "../glb/writeGlb";
import { characterFromObj, readObj } from "./readObj";
import { writeObj } from "./writeObj";

const read = (text: string): Character =>
  characterFromObj(readObj(new TextEncoder().encode(text), "roof.obj"), "roof.obj");
const text = (c: Character): string =>
  writeObj(
    c,
    c.parts.map((p) => p.positions),
  );
const one = (c: Character): Part => c.parts[0]!;

/** A roof of six vertices: two slopes that meet in the ridge 3 4. */
const ROOF = "v -1 0 0\nv -1 0 1\nv 0 1 0\nv 0 1 1\nv 1 0 0\nv 1 0 1\n";
const SLOPES = "vn -1 1 0\nvn 1 1 0\n";
const byGroups = `${ROOF}s 4\nf 1 2 4 3\ns 7\nf 3 4 6 5\n`;
const byNormals = `${ROOF}${SLOPES}f 1//1 2//1 4//1 3//1\nf 3//2 4//2 6//2 5//2\n`;
const normalsOf = (c: Character, weights: Record<string, number> = {}): { N: Float32Array; drawn: Float32Array } => {
  const d = deform(makeRig(c), { ...REST_MOMENT, weights });
  return { N: d.normals[0]!, drawn: d.drawn[0]! };
};

describe("smoothing groups of an OBJ", () => {
  it.each([
    ["groups", byGroups, [4, 7]],
    ["normals", byNormals, [1, 2]],
  ])("are taken from %s: the ridge is hard, and no vertex is added", (_, file, numbers) => {
    const c = read(file);
    expect(one(c).positions.length).toBe(18);
    expect([...groupOfEachFace(one(c))!]).toEqual(numbers);
    const { N, drawn } = normalsOf(c);
    // the two ridge vertices are drawn twice, at the same places
    expect(drawn.length).toBe(24);
    expect([...drawn.subarray(18)]).toEqual([0, 1, 0, 0, 1, 1]);
    expect([...makeRig(c).drawn[0]!.copies]).toEqual([2, 3]);
    for (const [v, x] of [
      [2, -Math.SQRT1_2],
      [3, -Math.SQRT1_2],
      [6, Math.SQRT1_2],
      [7, Math.SQRT1_2],
      [0, -Math.SQRT1_2],
      [5, Math.SQRT1_2],
    ] as const)
      expect(N[3 * v]).toBeCloseTo(x, 6);
  });
  it("of one number, or none said, make the ridge round", () => {
    for (const file of [
      byGroups.replace("s 7", "s 4"),
      byGroups.replace(/s .\n/g, ""),
      byNormals.replace(/\/\/2/g, "//1"),
    ]) {
      const { N, drawn } = normalsOf(read(file));
      expect(drawn.length).toBe(18);
      expect(N[6]).toBeCloseTo(0, 6);
    }
  });
  it("follow a shape: a ridge that rises leans both slopes farther", () => {
    const c = { ...read(byGroups), shapes: [shapeOf("higher", { 2: [0, 1, 0], 3: [0, 1, 0] })] };
    const { N, drawn } = normalsOf(c, { higher: 1 });
    expect([drawn[3 * 6 + 1], drawn[3 * 7 + 1]]).toEqual([2, 2]);
    // slope 2 up on 1 along: the normal is (2, 1) of length sqrt 5
    expect(N[3 * 6]).toBeCloseTo(2 / Math.sqrt(5), 6);
    expect(N[3 * 2]).toBeCloseTo(-2 / Math.sqrt(5), 6);
  });
  it(
    "switched off part every face; switched off for all of " + "a file without normals it is shown smooth, and says so",
    () => {
      const mixed = read(byGroups.replace("s 4", "s off").replace("s 7", "s 1"));
      expect([...groupOfEachFace(one(mixed))!]).toEqual([0, 1]);
      expect(normalsOf(mixed).drawn.length).toBe(24);
      expect(text(mixed)).toMatch(/s off\nf .*\ns 1\nf /);
      const all = read(`s off\n${byGroups.replace(/s .\n/g, "")}`);
      expect(one(all).cornerLook).toBeUndefined();
      expect(all.notes[0]).toMatch(/shown smooth/);
    },
  );
  it("with normals that say another thing give way to the normals", () => {
    const c = read(byNormals.replace("f 1", "s 1\nf 1"));
    expect(normalsOf(c).drawn.length).toBe(24);
    expect([
      ...groupOfEachFace(read(byNormals.replace("f 1", "s 5\nf 1").replace("f 3", "s 9\nf 3")).parts[0]!)!,
    ]).toEqual([5, 9]);
  });
  it("are written as groups, and a fold that ends within a surface as normals", () => {
    expect(text(read(byGroups))).toMatch(/s 4\nf 1 2 4 3\ns 7\nf 3 4 6 5\n/);
    // two quads beside each other: the fold between them parts one end of their edge alone
    const fold =
      "v 0 0 0\nv 1 0 0\nv 2 1 0\nv 0 0 1\nv 1 0 1\nv 2 0 1\nvn 0 " +
      "1 0\nvn 1 1 0\nf 1//1 4//1 5//1 2//1\nf 2//2 5//1 6//1 3//1\n";
    const c = read(fold);
    expect(groupOfEachFace(one(c))).toBeNull();
    const again = read(text(c));
    expect(text(c)).toContain("vn ");
    expect(drawnPart(one(again), "all").copies).toEqual(drawnPart(one(c), "all").copies);
  });
});

/** A quad and its neighbour, whose textures do not meet at the edge 2 3. */
const SEAM =
  "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\nvt 0 0\nvt 0.25 0\nvt 0.25 " +
  "1\nvt 0 1\nvt 0.5 0\nvt 1 0\nvt 1 1\nvt 0.5 1\nf 1/1 2/2 3/3 4/4\nf 2/5 5/6 6/7 3/8\n";

describe("seams of an OBJ", () => {
  it("keep every coordinate, go out as they came, and keep the vertices", () => {
    const c = read(SEAM);
    expect(one(c).positions.length).toBe(18);
    const again = read(text(c));
    expect([...one(again).cornerLook!.uvs!]).toEqual([...one(c).cornerLook!.uvs!]);
    // read from the file by hand: u and v from the top of the eight corners
    expect([...one(c).cornerLook!.uvs!]).toEqual([0, 1, 0.25, 1, 0.25, 0, 0, 0, 0.5, 1, 1, 1, 1, 0, 0.5, 0]);
    expect(drawnPart(one(c), "normals").copies.length).toBe(0);
    expect([...drawnPart(one(c), "all").copies]).toEqual([1, 2]);
  });
  it("are none where two coordinates are the same place of the texture", () =>
    expect(
      one(read(SEAM.replace("vt 0.5 0", "vt 0.25 0").replace("vt 0.5 1", "vt 0.25 1"))).cornerLook,
    ).toBeUndefined());
  it(
    "stand in a GLB as copies behind the vertices, with weights, " +
      "shapes and an even validator, and are put together again",
    async () => {
      const c: Character = {
        ...read(SEAM.replace("f 2/5", "s 3\nf 2/5")),
        shapes: [shapeOf("lift", { 2: [0, 0, 0.5], 4: [0, 0, 0.2] })],
      };
      const bytes = await writeGlb(c);
      const report = await validator.validateBytes(bytes);
      expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0]);
      const back = await readGlb(bytes, "roof.glb");
      expect(back.parts[0]).toMatchObject({
        positions: one(c).positions,
        corners: one(c).corners,
        cornerLook: { uvs: one(c).cornerLook!.uvs, groups: one(c).cornerLook!.groups },
      });
      expect([...back.shapes[0]!.deltas[0]!.vertices]).toEqual([2, 4]);
      expect(await writeGlb(back)).toEqual(bytes);
      const split = splitCharacter(c);
      expect(split.shapes[0]!.deltas[0]!.vertices.length).toBe(3);
    },
  );
  it("stay apart in a file whose notes no longer fit", async () => {
    const c = read(SEAM);
    const json = new TextDecoder("latin1").decode(await writeGlb(c)).replace('"copies":[1,2]', '"copies":[2,1]');
    const back = await readGlb(
      Uint8Array.from(json, (x) => x.charCodeAt(0)),
      "a.glb",
    );
    expect(back.parts[0]!.positions.length).toBe(24);
    expect([...back.parts[0]!.uvs!.subarray(12)]).toEqual([0.5, 1, 0.5, 0]);
  });
});

describe("corners after repairs", () => {
  const both = read(SEAM.replace("f 1/1", "s 2\nf 1/1").replace("f 2/5", "s 3\nf 2/5"));
  const cornersOf = (part: Part): string[] => {
    const rows = Array.from(
      part.corners,
      (v, k) =>
        `${part.positions.subarray(3 * v, 3 * v + 3).join()} ${part.cornerLook!.groups![k]} ` +
        `${part.cornerLook!.uvs!.subarray(2 * k, 2 * k + 2).join()}`,
    );
    return [...new Set(rows)].sort();
  };
  const before = cornersOf(one(both));
  it("are the same when faces are cut to triangles, turned or mended", () => {
    expect(cornersOf(one(triangulatePart(both, one(both).name)))).toEqual(before);
    expect(cornersOf(one(mendFaces(both, one(both).name, "degenerate")))).toEqual(before);
    expect(cornersOf(one(mendFaces(both, one(both).name, "inside-out")))).toEqual(before);
  });
  it("are kept when doubled vertices are welded: the corner says what it was", () => {
    const doubled = read(
      SEAM.replace("f 2/5 5/6 6/7 3/8", "v 1 0 0\nv 1 1 0\nf 7/5 5/6 6/7 8/8")
        .replace("vt 0.5 0", "vt 0.25 0")
        .replace("vt 0.5 1", "vt 0.25 1")
        .replace("f 1/1", "s 2\nf 1/1")
        .replace("f 7/5", "s 3\nf 7/5"),
    );
    const welded = one(weldPart(doubled, one(doubled).name, 1e-5));
    expect(welded.positions.length).toBe(18);
    expect([...groupOfEachFace(welded)!]).toEqual([2, 3]);
  });
  it("that no longer fit the faces are passed over", () => {
    const torn = { ...one(both), corners: one(both).corners.slice(0, 4), faceStarts: Uint32Array.of(0, 4) };
    expect(drawnPart(torn, "all").copies.length).toBe(0);
    expect(makeRig(characterWith({ parts: [torn] })).drawn[0]!.triangles.length).toBe(6);
  });
  it("become vertices of their own when triangles are saved, and the seam stays", () => {
    const rows = 12;
    const at = (i: number, j: number): number => i * (rows + 1) + j + 1;
    const lines: string[] = [];
    for (let i = 0; i <= rows; i++)
      for (let j = 0; j <= rows; j++) lines.push(`v ${i / rows} ${j / rows} 0`, `vt ${i / rows / 2} ${j / rows}`);
    for (let j = 0; j <= rows; j++) lines.push(`vt 0.9 ${j / rows}`);
    for (let i = 0; i < rows; i++)
      for (let j = 0; j < rows; j++) {
        const t = (a: number, b: number): number => (i === 6 && a === 6 ? (rows + 1) ** 2 + b + 1 : at(a, b));
        lines.push(
          `f ${[
            [i, j],
            [i + 1, j],
            [i + 1, j + 1],
            [i, j + 1],
          ]
            .map(([a, b]) => `${at(a!, b!)}/${t(a!, b!)}`)
            .join(" ")}`,
        );
      }
    const sheet = read(lines.join("\n"));
    const less = reduceCharacter(sheet, 120).character.parts[0]!;
    expect(less.cornerLook).toBeUndefined();
    const us = new Set(
      Array.from(
        less.uvs!.filter((_, i) => i % 2 === 0),
        (u) => u.toFixed(4),
      ),
    );
    expect(us.has("0.9000")).toBe(true);
  });
  it("of any box with any groups draw one normal for each group at a vertex", () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 6, maxLength: 6 }), (ofFace) => {
        const box = boxPart();
        const groups = Uint32Array.from(ofFace.flatMap((g) => [g, g, g, g]));
        const { part, copies } = drawnPart({ ...box, cornerLook: { groups, uvs: null } }, "normals");
        const kinds = new Set(
          Array.from(box.corners, (v, k) => `${v} ${groups[k] === 0 ? `face ${k >> 2}` : groups[k]}`),
        );
        expect(8 + copies.length).toBe(kinds.size);
        part.corners.forEach((d, k) => expect(d < 8 ? d : copies[d - 8]).toBe(box.corners[k]));
      }),
    );
  });
});
