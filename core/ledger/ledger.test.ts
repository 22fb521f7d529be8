import { readdirSync } from "node:fs";
import { boxPart, shapeOf, tube } from "../../tests/helpers/characters";
import type { Character } from "../model/character";
import { applyStep, applySteps } from "./applyStep";
import { decodeDeltas, encodeDeltas } from "./deltasBlob";
import { OPERATIONS } from "./operations/operations";
import { compareReadBack, proofMoments, writeAndProve } from "./handOff";
import { weightChangeSchema } from "../weights/changeWeights";
import { blobsOfStep, describeStep, stepSchema, type Step } from "./steps";

const base = tube();
const hash = (n: number): string => n.toString(16).padStart(64, "0");
const shape = shapeOf("bulge", { 10: [0.01, 0, 0], 40: [0, 0.02, 0] });
const blobs = new Map([
  [hash(1), encodeDeltas(base, shape.deltas)],
  [hash(2), encodeDeltas(base, shapeOf("x", { 3: [0, 0, 0.5] }).deltas)],
]);
const source = (h: string): Uint8Array | undefined => blobs.get(h);
const driver = {
  shape: "bulge",
  joint: "lower",
  axis: [1, 0, 0] as [number, number, number],
  fromDegrees: 10,
  toDegrees: 90,
  easing: "smooth" as const,
  intensity: 1,
  enabled: true,
};
const make: Step = { op: "make correctives", items: [{ name: "bulge", label: "elbow bulge", blob: hash(1), driver }] };

describe("steps", () => {
  it.each<[string, Step]>([
    ["map joint", { op: "map joint", joint: "lower", bone: "leftLowerArm" }],
    ["make", make],
    ["edit", { op: "edit corrective", name: "bulge", blob: hash(2) }],
    ["set driver", { op: "set driver", name: "bulge", driver: { enabled: false } }],
    ["part kind", { op: "part kind", part: "limb", kind: "garment" }],
    ["rename", { op: "rename", kind: "joints", names: [{ from: "lower", to: "elbow" }] }],
    [
      "weights",
      { op: "change weights", part: "limb", change: weightChangeSchema.parse({ tool: "smooth", locked: ["upper"] }) },
    ],
    ["remove", { op: "remove corrective", name: "bulge" }],
    [
      "accept",
      {
        op: "accept finding",
        check: "mesh.loose",
        part: "body",
        joint: null,
        shape: null,
        clip: null,
        reason: "on purpose",
      },
    ],
  ])("pass through JSON unchanged and read as a sentence: %s", (_what, step) => {
    expect(stepSchema.parse(JSON.parse(JSON.stringify(step)))).toEqual(step);
    expect(describeStep(step)).toMatch(/^[a-z].{8,}/);
  });
  it.each([
    { op: "nothing" },
    { op: "map joint", joint: "a", bone: "tail" },
    { op: "edit corrective", name: "", blob: hash(1) },
    { op: "edit corrective", name: "a", blob: "short" },
    { op: "make correctives", items: [] },
    { op: "accept finding", check: "a", part: null, joint: null, shape: null, reason: "" },
  ])("of another form are refused: %j", (step) => expect(stepSchema.safeParse(step).success).toBe(false));
  it("name the geometry they need", () => {
    expect(blobsOfStep(make)).toEqual([hash(1)]);
    expect(blobsOfStep({ op: "remove corrective", name: "a" })).toEqual([]);
  });
});

describe("applying", () => {
  it("makes a driven shape, and leaves the character before untouched", () => {
    const before = JSON.stringify(base.shapes);
    const after = applyStep(base, make, source);
    expect(after.shapes[0]).toMatchObject({ name: "bulge", label: "elbow bulge" });
    expect(after.shapes[0]!.deltas).toEqual(shape.deltas);
    expect(after.drivers).toEqual([driver]);
    expect(after.parts).toBe(base.parts);
    expect(JSON.stringify(base.shapes)).toBe(before);
  });
  it("edits, drives, switches and removes", () => {
    const made = applyStep(base, make, source);
    expect([
      ...applyStep(made, { op: "edit corrective", name: "bulge", blob: hash(2) }, source).shapes[0]!.deltas[0]!
        .vertices,
    ]).toEqual([3]);
    expect(
      applyStep(made, { op: "set driver", name: "bulge", driver: { enabled: false, toDegrees: 70 } }, source)
        .drivers[0],
    ).toMatchObject({ enabled: false, toDegrees: 70, fromDegrees: 10 });
    const gone = applyStep(made, { op: "remove corrective", name: "bulge" }, source);
    expect([gone.shapes, gone.drivers]).toEqual([[], []]);
  });
  it("takes a part for another kind", () => {
    expect(applyStep(base, { op: "part kind", part: "limb", kind: "garment" }, source).parts[0]!.kind).toBe("garment");
    expect(() => applyStep(base, { op: "part kind", part: "gone", kind: "hair" }, source)).toThrow(
      /no part named gone/,
    );
  });
  it("maps a bone to one joint only", () => {
    const mapped = applySteps(
      base,
      [
        { op: "map joint", joint: "upper", bone: "leftUpperArm" },
        { op: "map joint", joint: "lower", bone: "leftUpperArm" },
      ],
      source,
    );
    expect(mapped.jointMap).toEqual({ lower: "leftUpperArm" });
    expect(applyStep(mapped, { op: "map joint", joint: "lower", bone: null }, source).jointMap).toEqual({
      lower: null,
    });
  });
  it.each<[string, Step, RegExp]>([
    ["a joint that is not there", { op: "map joint", joint: "tail", bone: "hips" }, /no joint named tail/],
    ["geometry that is missing", { ...make, items: [{ ...make.items[0]!, blob: hash(9) }] } as Step, /missing/],
    ["a corrective that is not there", { op: "remove corrective", name: "gone" }, /no shape named gone/],
    [
      "a driver on no joint",
      { ...make, items: [{ ...make.items[0]!, driver: { ...driver, joint: "tail" } }] } as Step,
      /no joint named tail/,
    ],
  ])("refuses %s", (_what, step, pattern) => expect(() => applyStep(base, step, source)).toThrow(pattern));
  it("refuses a name that is taken", () =>
    expect(() => applySteps(base, [make, make], source)).toThrow(/exists already/));
});

describe("stored movement", () => {
  it("knows the part it was made on", () => {
    const bytes = encodeDeltas(base, shape.deltas);
    expect(decodeDeltas(base, bytes)).toEqual(shape.deltas);
    const renamed: Character = { ...base, parts: [{ ...base.parts[0]!, name: "other", kind: "hair" }] };
    expect(() => decodeDeltas(renamed, bytes)).toThrow(/no part named limb/);
    expect(() => decodeDeltas({ ...base, parts: [{ ...boxPart("limb") }] }, bytes)).toThrow(/8/);
  });
  it("refuses numbers that are not finite", () =>
    expect(() => decodeDeltas(base, encodeDeltas(base, shapeOf("x", { 1: [NaN, 0, 0] }).deltas))).toThrow(
      /cannot be read/,
    ));
});

describe("hand-off", () => {
  const character = applyStep(base, make, source);
  it("is compared at rest and at every shape at full", () => {
    const moments = proofMoments(character);
    expect(moments.length).toBe(2);
    expect(moments[1]!.weights).toEqual({ bulge: 1 });
  });
  it("reads back the same", async () => {
    const { readBack, sidecar, glb } = await writeAndProve(character);
    expect(readBack).toMatchObject({ joints: true, weights: true, shapes: true, drivers: true, differences: [] });
    expect(readBack.largestErrorMm).toBeLessThan(1e-3);
    expect(JSON.parse(sidecar)).toMatchObject({ version: 1, drivers: [driver] });
    expect(glb.length).toBeGreaterThan(1000);
  });
  it.each<[string, (c: Character) => Character, string]>([
    [
      "a joint renamed",
      (c) => ({
        ...c,
        skeleton: { ...c.skeleton!, joints: c.skeleton!.joints.map((j, i) => (i ? { ...j, name: "z" } : j)) },
      }),
      "Joints differ",
    ],
    [
      "a weight changed",
      (c) => ({
        ...c,
        parts: [
          {
            ...c.parts[0]!,
            skin: {
              ...c.parts[0]!.skin!,
              weights: c.parts[0]!.skin!.weights.map((w, i) => (i === 800 ? w + 0.01 : w)),
            },
          },
        ],
      }),
      "Weights differ",
    ],
    ["a shape left out", (c) => ({ ...c, shapes: [] }), "Shapes differ"],
    [
      "a driver changed",
      (c) => ({ ...c, drivers: [{ ...c.drivers[0]!, toDegrees: 91 }] }),
      "Drivers differ: the driver of bulge.",
    ],
    ["a mix left out", (c) => ({ ...c, mixes: [{ name: "happy", shares: [] }] }), "Drivers differ: the mix happy."],
    ["a part left out", (c) => ({ ...c, parts: [] }), "Parts differ"],
  ])("would notice %s", async (_what, change, word) => {
    const proof = await compareReadBack(character, change(character));
    expect(proof.differences.join(" ")).toContain(word);
  });
  it("compares drivers by what they mean: a database gives their keys back in an order of its own", async () => {
    const turned = <T extends object>(x: T): T => Object.fromEntries(Object.entries(x).reverse()) as T;
    const driven: Character = {
      ...character,
      shapeDrivers: [
        { shape: "bulge", of: ["bulge"], rule: "in-between", span: { from: 0, peak: 0.5, to: 1 }, enabled: true },
      ],
    };
    const again: Character = {
      ...driven,
      drivers: driven.drivers.map(turned),
      shapeDrivers: driven.shapeDrivers.map((d) => turned({ ...d, span: turned(d.span!) })),
    };
    expect((await compareReadBack(driven, again)).differences).toEqual([]);
  });
  it("would measure a vertex that moved", async () => {
    const moved: Character = {
      ...character,
      parts: [
        { ...character.parts[0]!, positions: character.parts[0]!.positions.map((x, i) => (i === 7 ? x + 0.002 : x)) },
      ],
    };
    expect((await compareReadBack(character, moved)).largestErrorMm).toBeCloseTo(2, 2);
  });
});

it("a step of a later version is refused in words", () => {
  expect(() => applyStep(base, { op: "teleport" } as never, () => undefined)).toThrow(
    /does not know the operation "teleport"/,
  );
});

describe("the operations of the ledger", () => {
  it("are each a file of its own, all of them known, no name twice", () => {
    const helpers = ["operation", "operations", "findingPlace", "madeTextures"];
    const files = readdirSync("core/ledger/operations").map((f) => f.replace(".ts", ""));
    expect(files.filter((f) => !helpers.includes(f)).length).toBe(OPERATIONS.length);
    expect(new Set(OPERATIONS.map((o) => o.op)).size).toBe(OPERATIONS.length);
  });
});
