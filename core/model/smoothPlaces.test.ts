import validator from "gltf-validator";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { weldPart } from "../edits/repairs/refaceParts";
import { characterWith, partOf, shapeOf } from "../../tests/helpers/characters";
import type { Character, Part } from "./character";
import { duplicateVertices } from "./duplicateVertices";
import { placesOf } from "./places";
import { smoothAfter, smoothByNormals, smoothPlaces } from "./smoothPlaces";
import { withFaces } from "./withFaces";

/** A roof: two slopes that meet in a ridge, whose two vertices are there once for each slope. */
const roof: Part = partOf(
  "roof",
  [
    [-1, 0, 0],
    [-1, 0, 1],
    [0, 1, 0],
    [0, 1, 1],
    [0, 1, 0],
    [0, 1, 1],
    [1, 0, 0],
    [1, 0, 1],
  ],
  [
    [0, 1, 3, 2],
    [4, 5, 7, 6],
  ],
);
const slopes = Float32Array.from(
  [0, 1, 2, 3]
    .flatMap(() => [-Math.SQRT1_2, Math.SQRT1_2, 0])
    .concat([0, 1, 2, 3].flatMap(() => [Math.SQRT1_2, Math.SQRT1_2, 0])),
);
const upward = Float32Array.from({ length: 24 }, (_, i) => (i % 3 === 1 ? 1 : 0));
const hard: Character = characterWith({
  parts: [{ ...roof, smooth: smoothByNormals(roof.positions, slopes)! }],
  shapes: [shapeOf("higher", { 2: [0, 0.5, 0], 3: [0, 0.5, 0], 4: [0, 0.5, 0], 5: [0, 0.5, 0] })],
});
const normalsOf = (c: Character, weights: Record<string, number> = {}): Float32Array =>
  deform(makeRig(c), { ...REST_MOMENT, weights }).normals[0]!;
const across = (N: Float32Array, v: number): number => N[3 * v]!;

describe("hard edges", () => {
  it("are where normals of a file differ at one place; small differences are seams", () => {
    expect([...smoothByNormals(roof.positions, slopes)!]).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    expect(smoothByNormals(roof.positions, upward)).toBeUndefined();
    const nearly = upward.slice();
    nearly.set([0.1, 1, 0], 3 * 4);
    expect(smoothByNormals(roof.positions, nearly)).toBeUndefined();
  });
  it("keep their normals apart at rest and under a shape; without them the ridge is round", () => {
    expect(across(normalsOf(hard), 2)).toBeLessThan(-0.5);
    expect(across(normalsOf(hard), 4)).toBeGreaterThan(0.5);
    // a steeper roof leans farther out
    expect(across(normalsOf(hard, { higher: 1 }), 2)).toBeLessThan(across(normalsOf(hard), 2) - 0.05);
    const round = { ...hard, parts: [roof] };
    for (const v of [2, 4]) expect(across(normalsOf(round), v)).toBeCloseTo(0, 6);
  });
  it("go into a GLB and come back, for the shapes too, and the file is valid", async () => {
    const bytes = await writeGlb(hard);
    const back = await readGlb(bytes, "roof.glb");
    expect([...back.parts[0]!.smooth!]).toEqual([...hard.parts[0]!.smooth!]);
    expect(across(normalsOf(back, { higher: 1 }), 2)).toBeCloseTo(across(normalsOf(hard, { higher: 1 }), 2), 5);
    expect((await validator.validateBytes(bytes)).issues.numErrors).toBe(0);
    expect((await readGlb(await writeGlb({ ...hard, parts: [roof] }), "round.glb")).parts[0]!.smooth).toBeUndefined();
  });
  it("stay when vertices are renumbered, copied and welded", () => {
    const half = withFaces(hard.parts[0]!, [{ corners: [0, 1, 3, 2], from: 0 }]).part;
    expect([...half.smooth!]).toEqual([0, 1, 2, 3]);
    const copied = duplicateVertices(hard.parts[0]!, [4], [0, 1, 0]);
    expect(smoothPlaces(copied)[8]).toBe(4);
    const welded = weldPart(hard, "roof", 1e-5).parts[0]!;
    expect(welded.positions.length).toBe(roof.positions.length);
    expect(weldPart({ ...hard, parts: [roof] }, "roof", 1e-5).parts[0]!.positions.length).toBe(
      roof.positions.length - 6,
    );
    expect(smoothAfter(undefined, [0])).toEqual({});
  });
  it("are passed over where they do not fit the part, and end where vertices part", () => {
    expect([...smoothPlaces({ ...roof, smooth: Uint32Array.from([0, 1]) })]).toEqual([...placesOf(roof.positions)]);
    const apart = {
      ...roof,
      smooth: Uint32Array.from([0, 1, 2, 3, 2, 3, 6, 7]),
      positions: roof.positions.map((x, i) => (i === 3 * 4 ? x + 0.1 : x)),
    };
    expect([...smoothPlaces(apart)].slice(2, 6)).toEqual([2, 3, 4, 3]);
  });
});
