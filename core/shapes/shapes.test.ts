import { shapeDriverWeight } from "../evaluate/drivers/driverWeight";
import { weightsAt as weightsOf } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import { assertCharacter } from "../model/assertCharacter";
import type { Character, ShapeDriver } from "../model/character";
import { withoutShape } from "../model/withoutShape";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { shapeOf, tube } from "../../tests/helpers/characters";
import { mixShapes } from "./mixShapes";
import { shapeMeaning, shutsEye } from "../names/shapeMeaning";
import { shapesAsSeen } from "./shapesAsSeen";

const smile = shapeOf("smile", { 10: [0.01, 0, 0], 11: [0.004, 0, 0] });
const pucker = shapeOf("pucker", { 10: [-0.006, 0, 0], 20: [0, 0, 0.02] });
const both = shapeOf("smile and pucker", { 10: [0, 0.001, 0] });
const halfway = shapeOf("pucker half-way", { 20: [0, 0.002, 0] });
const COMBINATION: ShapeDriver = { shape: "smile and pucker", of: ["smile", "pucker"], rule: "product", enabled: true };
const IN_BETWEEN: ShapeDriver = {
  shape: "pucker half-way",
  of: ["pucker"],
  rule: "in-between",
  span: { from: 0, peak: 0.5, to: 1 },
  enabled: true,
};
const character: Character = {
  ...tube(),
  shapes: [smile, pucker, both, halfway],
  shapeDrivers: [COMBINATION, IN_BETWEEN],
};
const weightsAt = (weights: Record<string, number>, drivers = true): number[] =>
  [...weightsOf(character, { ...REST_MOMENT, weights, drivers })].map((w) => Number(w.toFixed(6)));

describe("weights set by other shapes", () => {
  it.each<[ShapeDriver["rule"], number[], number]>([
    ["product", [0.5, 0.4], 0.2],
    ["product", [1, 1], 1],
    ["product", [0.5, -0.4], 0],
    ["minimum", [0.5, 0.4, 0.9], 0.4],
    ["beyond one", [0.7, 0.6], 0.3],
    ["beyond one", [0.4, 0.5], 0],
    ["beyond one", [1, 1, 1], 1],
  ])("a %s of %j is %d", (rule, sources, weight) =>
    expect(shapeDriverWeight({ rule, enabled: true }, sources)).toBeCloseTo(weight, 12),
  );
  it("an in-between half-way is 4w(1 - w)", () => {
    for (const w of [0, 0.1, 0.25, 0.5, 0.8, 1])
      expect(shapeDriverWeight(IN_BETWEEN, [w])).toBeCloseTo(4 * w * (1 - w), 12);
    expect([-0.5, 1.4].map((w) => shapeDriverWeight(IN_BETWEEN, [w]))).toEqual([0, 0]);
  });
  it("an in-between elsewhere is at full at its peak and gone at its ends", () => {
    const driver = { ...IN_BETWEEN, span: { from: 0.2, peak: 0.7, to: 0.9 } };
    expect([0.1, 0.2, 0.7, 0.9, 1].map((w) => Number(shapeDriverWeight(driver, [w]).toFixed(9)))).toEqual([
      0, 0, 1, 0, 0,
    ]);
    expect(shapeDriverWeight(driver, [0.45])).toBeCloseTo(0.75, 9);
  });
  it("are added in shape order, and not when drivers are off", () => {
    expect(weightsAt({ smile: 0.5, pucker: 0.5 })).toEqual([0.5, 0.5, 0.25, 1]);
    expect(weightsAt({ smile: 0.5, pucker: 0.5 }, false)).toEqual([0.5, 0.5, 0, 0]);
  });
  it("are none when switched off", () => expect(shapeDriverWeight({ ...COMBINATION, enabled: false }, [1, 1])).toBe(0));
});

describe("a mix", () => {
  it("adds weighted movements vertex by vertex", () => {
    const [delta] = mixShapes([
      [smile, 1],
      [pucker, 0.5],
    ]);
    expect([...delta!.vertices]).toEqual([10, 11, 20]);
    expect([...delta!.deltas].map((x) => Number(x.toFixed(6)))).toEqual([0.007, 0, 0, 0.004, 0, 0, 0, 0, 0.01]);
  });
});

describe("shapes as they are seen", () => {
  it("show a combination with what it answers and an in-between at its peak", () => {
    const seen = shapesAsSeen(character);
    expect(seen.map((s) => s.name)).toEqual(character.shapes.map((s) => s.name));
    expect([...seen[2]!.deltas[0]!.vertices]).toEqual([10, 11, 20]);
    expect(seen[2]!.deltas[0]!.deltas[0]).toBeCloseTo(0.004, 7);
    expect([...seen[3]!.deltas[0]!.deltas.subarray(3)].map((x) => Number(x.toFixed(6)))).toEqual([0, 0.002, 0.01]);
  });
  it("leave out what is switched off", () =>
    expect(
      shapesAsSeen({ ...character, shapeDrivers: [COMBINATION, { ...IN_BETWEEN, enabled: false }] }).map((s) => s.name),
    ).toEqual(["smile", "pucker", "smile and pucker"]));
});

describe("shape drivers", () => {
  it("go with a shape that is removed, whether they set or read it", () => {
    const left = withoutShape(character, "pucker");
    expect(left.shapeDrivers).toEqual([]);
    expect(left.shapes.length).toBe(3);
    assertCharacter(left);
  });
  it("must name shapes that are there", () =>
    expect(() => assertCharacter({ ...character, shapeDrivers: [{ ...COMBINATION, of: ["smile", "gone"] }] })).toThrow(
      /no shape gone/,
    ));
  it("survive a GLB", async () =>
    expect((await readGlb(await writeGlb(character), "c.glb")).shapeDrivers).toEqual(character.shapeDrivers));
});

describe("the meaning of a name", () => {
  it.each<[string, ReturnType<typeof shapeMeaning>]>([
    ["AU12_left", { system: "unit", unit: 12, side: "left" }],
    ["au 43 R", { system: "unit", unit: 43, side: "right" }],
    ["AU27", { system: "unit", unit: 27, side: null }],
    ["viseme_14", { system: "viseme", viseme: 14 }],
    ["Viseme 1", { system: "viseme", viseme: 1 }],
    ["blinkLeft", { system: "preset", name: "blinkLeft" }],
    ["blink_left", { system: "preset", name: "blinkLeft" }],
    ["Joy", { system: "expression", name: "joy" }],
    ["oh", { system: "preset", name: "oh" }],
    ["AU43_left_halfway", null],
    ["viseme_15", null],
    ["viseme", null],
    ["smile", null],
    ["au_x", null],
    ["blink half", null],
  ])("%s", (name, meaning) => expect(shapeMeaning(name)).toEqual(meaning));
  it("says whose eye a shape shuts", () => {
    const shuts = (name: string): boolean[] =>
      (["left", "right"] as const).map((side) => shutsEye(shapeMeaning(name), side));
    expect([shuts("AU43_left"), shuts("AU45"), shuts("blink"), shuts("blinkRight"), shuts("AU12_left")]).toEqual([
      [true, false],
      [true, true],
      [true, true],
      [false, true],
      [false, false],
    ]);
  });
});
