import { applyStep } from "../ledger/applyStep";
import { stepSchema, type Step } from "../ledger/steps";
import { encodeDeltas } from "../ledger/deltasBlob";
import type { Character, Shape } from "../model/character";
import { mirrorMap } from "../model/mirrorMap";
import { boxPart, shapeOf, tube } from "../../tests/helpers/characters";
import { deriveShapes, type Derivation } from "./deriveShapes";
import { sideShare } from "./sideShare";

const limb = tube();
const wide: Shape = shapeOf(
  "wide",
  Object.fromEntries(Array.from({ length: 24 }, (_, s) => [16 * 24 + s, [0, 0.01, 0] as const])),
);
const start: Character = {
  ...limb,
  parts: [...limb.parts, boxPart("box", [0.1, 0.1, 0.1], [0, 1, 0], "other")],
  shapes: [
    wide,
    {
      ...shapeOf("both parts", { 10: [0.01, 0, 0] }),
      deltas: [...shapeOf("x", { 10: [0.01, 0, 0] }).deltas, ...shapeOf("x", { 1: [0, 0.02, 0] }, 1).deltas],
    },
  ],
};
const made = (from: Derivation, name = "new"): Shape =>
  deriveShapes(start, [{ name, label: name, from }]).shapes.find((s) => s.name === name)!;
const moveOf = (shape: Shape, vertex: number, part = 0): number[] => {
  const d = shape.deltas.find((x) => x.part === part);
  const k = d ? d.vertices.indexOf(vertex) : -1;
  return k < 0 ? [0, 0, 0] : [...d!.deltas.subarray(3 * k, 3 * k + 3)];
};
const refusal = (run: () => unknown): string => {
  try {
    run();
  } catch (error) {
    return (error as Error).message;
  }
  return "done";
};

describe("the share of a side", () => {
  it("adds up to one with the other side's, everywhere and for every seam", () => {
    for (const seam of [0, 0.002, 0.01, 0.05])
      for (const x of [-0.1, -0.01, -0.003, 0, 0.0001, 0.004, 0.02])
        expect(sideShare(x, "left", seam) + sideShare(x, "right", seam)).toBeCloseTo(1, 12);
  });
  it("is all beyond the seam, half at the middle", () => {
    expect([sideShare(0.01, "left", 0.01), sideShare(-0.01, "left", 0.01), sideShare(0, "left", 0.01)]).toEqual([
      1, 0, 0.5,
    ]);
  });
});

describe("shapes made from shapes", () => {
  it("left and right add up to the whole", () => {
    const [left, right] = [
      made({ way: "side", of: "wide", side: "left", seamMm: 20 }),
      made({ way: "side", of: "wide", side: "right", seamMm: 20 }, "r"),
    ];
    for (let s = 0; s < 24; s++) expect(moveOf(left, 384 + s)[1]! + moveOf(right, 384 + s)[1]!).toBeCloseTo(0.01, 8);
    expect(moveOf(left, 384)[1]).toBeCloseTo(0.01, 8);
    expect(moveOf(left, 384 + 12)).toEqual([0, 0, 0]);
  });
  it("a mirror image lies on the other side", () => {
    const image = made({ way: "mirror", of: "both parts" });
    const map = mirrorMap(start.parts[0]!.positions);
    expect(moveOf(image, map[10]!)[0]).toBeCloseTo(-0.01, 8);
  });
  it("a mix adds and takes away", () => {
    const mix = made({
      way: "mix",
      of: [
        { shape: "both parts", weight: 2 },
        { shape: "wide", weight: -0.5 },
      ],
    });
    expect(moveOf(mix, 10)[0]).toBeCloseTo(0.02, 8);
    expect(moveOf(mix, 390)[1]).toBeCloseTo(-0.005, 8);
  });
  it("one part alone can be taken out", () => {
    expect(made({ way: "parts", of: "both parts", parts: ["box"] }).deltas.map((d) => d.part)).toEqual([1]);
  });
  it("later ones read earlier ones, and may be driven", () => {
    const c = deriveShapes(start, [
      { name: "half", label: "half", from: { way: "mix", of: [{ shape: "wide", weight: 0.5 }] } },
      {
        name: "quarter",
        label: "quarter",
        from: { way: "mix", of: [{ shape: "half", weight: 0.5 }] },
        driver: { of: ["wide", "half"], rule: "product", enabled: true },
      },
    ]);
    expect(moveOf(c.shapes.at(-1)!, 390)[1]).toBeCloseTo(0.0025, 8);
    expect(c.shapeDrivers).toEqual([{ shape: "quarter", of: ["wide", "half"], rule: "product", enabled: true }]);
  });
  it.each<[string, Derivation, string, RegExp]>([
    ["a name that is taken", { way: "mirror", of: "wide" }, "wide", /exists already/],
    ["a shape that is not there", { way: "mirror", of: "gone" }, "new", /no shape named gone/],
    ["a part that is not there", { way: "parts", of: "wide", parts: ["hat"] }, "new", /no part named hat/],
    ["nothing that moves", { way: "mix", of: [{ shape: "wide", weight: 0 }] }, "new", /move nothing/],
  ])("refused: %s", (_, from, name, told) => expect(refusal(() => made(from, name))).toMatch(told));
});

describe("steps for shapes", () => {
  const bytes = encodeDeltas(start, shapeOf("x", { 5: [0, 0, 0.03] }).deltas);
  const blobs = (): Uint8Array => bytes;
  const hash = "a".repeat(64);
  const done = (step: Step, on = start): Character => applyStep(on, stepSchema.parse(step), blobs);
  it("add, edit and remove", () => {
    const added = done({
      op: "add shapes",
      source: "files",
      items: [
        {
          name: "from file",
          label: "from file",
          blob: hash,
          driver: { of: ["wide"], rule: "in-between", span: { from: 0, peak: 0.4, to: 1 }, enabled: true },
        },
      ],
    });
    expect(moveOf(added.shapes.at(-1)!, 5)[2]).toBeCloseTo(0.03, 8);
    expect(added.shapeDrivers[0]!.span!.peak).toBe(0.4);
    const edited = done({ op: "edit shapes", items: [{ name: "wide", blob: hash }] }, added);
    expect(moveOf(edited.shapes[0]!, 5)[2]).toBeCloseTo(0.03, 8);
    const switched = done({ op: "set shape driver", name: "from file", driver: { enabled: false } }, edited);
    expect(switched.shapeDrivers[0]).toEqual({ ...added.shapeDrivers[0], enabled: false });
    const removed = done({ op: "remove shapes", names: ["wide", "from file"] }, switched);
    expect([removed.shapes.map((s) => s.name), removed.shapeDrivers]).toEqual([["both parts"], []]);
  });
  it("are refused whole when one thing is not there", () => {
    expect(refusal(() => done({ op: "remove shapes", names: ["wide", "gone"] }))).toMatch(/no shape named gone/);
    expect(refusal(() => done({ op: "set shape driver", name: "wide", driver: { enabled: false } }))).toMatch(
      /set by no other shape/,
    );
    expect(
      refusal(() =>
        done({
          op: "add shapes",
          source: "files",
          items: [{ name: "n", label: "n", blob: hash, driver: { of: ["gone"], rule: "product", enabled: true } }],
        }),
      ),
    ).toMatch(/no shape named gone/);
  });
});
