import { tube } from "../../tests/helpers/characters";
import { vertexCountOf } from "../model/character";
import { applyPaint, encodePaint } from "./keptPaint";
import { beginPaint, dabPaint, swapPaint, type PaintRecord } from "./paintWeights";

const limb = tube();
const everywhere = (share = 1): Map<number, number> =>
  new Map(Array.from({ length: vertexCountOf(limb.parts[0]!) }, (_, v) => [v, share]));
const sum = (dense: Float32Array, v: number): number => dense[2 * v]! + dense[2 * v + 1]!;

describe("locked joints", () => {
  const third = {
    ...limb,
    skeleton: {
      ...limb.skeleton!,
      joints: [
        ...limb.skeleton!.joints,
        {
          name: "twist",
          parent: 0,
          translation: [0, 0.15, 0] as const,
          rotation: [0, 0, 0, 1] as const,
          scale: [1, 1, 1] as const,
        },
      ],
      inverseBinds: Float32Array.from([...limb.skeleton!.inverseBinds, ...limb.skeleton!.inverseBinds.slice(0, 16)]),
      inSkin: Uint8Array.of(1, 1, 1),
    },
  };
  it.each(["add", "take away", "even out"] as const)(
    "keep their weight whatever is painted beside them: %s",
    (tool) => {
      const paint = beginPaint(third, "limb");
      for (let round = 0; round < 12; round++)
        dabPaint(paint, 2, tool, 1, everywhere(), false, new Map(), new Set([1]));
      for (let v = 0; v < vertexCountOf(limb.parts[0]!); v++) {
        expect(paint.dense[3 * v + 1]).toBeCloseTo(paint.began[3 * v + 1]!, 5);
        expect(paint.dense[3 * v]! + paint.dense[3 * v + 1]! + paint.dense[3 * v + 2]!).toBeCloseTo(1, 5);
      }
      if (tool === "add") expect(paint.dense[2]).toBeGreaterThan(0.8);
    },
  );
  it("are not painted themselves", () => {
    const paint = beginPaint(third, "limb");
    dabPaint(paint, 1, "add", 1, everywhere(), false, new Map(), new Set([1]));
    expect(paint.dense).toEqual(paint.began);
  });
});

describe("painting weights", () => {
  it("adds to one joint; the other makes up the sum", () => {
    const paint = beginPaint(limb, "limb");
    dabPaint(paint, 1, "add", 1, everywhere(), false, new Map());
    for (let v = 0; v < vertexCountOf(limb.parts[0]!); v++) {
      expect(sum(paint.dense, v)).toBeCloseTo(1, 5);
      expect(paint.dense[2 * v + 1]!).toBeGreaterThanOrEqual(paint.began[2 * v + 1]! - 1e-6);
    }
    expect(paint.dense[1]).toBeCloseTo(0.15, 5);
  });
  it("takes away, and where nothing else holds a vertex its neighbours' joints do", () => {
    const paint = beginPaint(limb, "limb");
    // a ring that hangs wholly on the upper joint, beside one that is blended
    const rows = Array.from({ length: vertexCountOf(limb.parts[0]!) }, (_, v) => v);
    const rim = rows.find(
      (v) =>
        paint.dense[2 * v]! > 0.999 &&
        Array.from(paint.neighbours.list.subarray(paint.neighbours.start[v]!, paint.neighbours.start[v + 1]!)).some(
          (n) => paint.dense[2 * n + 1]! > 0,
        ),
    )!;
    dabPaint(paint, 0, "take away", 1, new Map([[rim, 1]]), false, new Map());
    expect(paint.dense[2 * rim]).toBeCloseTo(0.85, 4);
    expect(sum(paint.dense, rim)).toBeCloseTo(1, 5);
    // deep inside, no neighbour offers another joint: it stays whole
    dabPaint(paint, 0, "take away", 1, new Map([[0, 1]]), false, new Map());
    expect(paint.dense[0]).toBeCloseTo(1, 5);
  });
  it("evens out towards the neighbours", () => {
    const paint = beginPaint(limb, "limb");
    dabPaint(paint, 1, "add", 1, new Map([[0, 1]]), false, new Map());
    const high = paint.dense[1]!;
    dabPaint(paint, 1, "even out", 1, new Map([[0, 1]]), false, new Map());
    expect(paint.dense[1]!).toBeLessThan(0.2 * high);
  });
  it("goes back and forth by stroke", () => {
    const paint = beginPaint(limb, "limb");
    const record: PaintRecord = new Map();
    dabPaint(paint, 1, "add", 1, everywhere(), false, record);
    const painted = paint.dense.slice();
    swapPaint(paint, record);
    expect(paint.dense).toEqual(paint.began);
    swapPaint(paint, record);
    expect(paint.dense).toEqual(painted);
  });
  it("is kept as a step by vertex and joint name, and applied to the same vertices", () => {
    const paint = beginPaint(limb, "limb");
    expect(encodePaint(limb, paint)).toBeNull();
    dabPaint(
      paint,
      1,
      "add",
      1,
      new Map([
        [5, 1],
        [6, 0.5],
      ]),
      false,
      new Map(),
    );
    const bytes = encodePaint(limb, paint)!;
    const after = applyPaint(limb, "limb", bytes);
    const skin = after.parts[0]!.skin!;
    const share = Array.from({ length: skin.influenceCount }, (_, k) =>
      skin.joints[5 * skin.influenceCount + k] === 1 ? skin.weights[5 * skin.influenceCount + k]! : 0,
    ).reduce((a, b) => a + b, 0);
    expect(share).toBeCloseTo(0.15, 4);
    expect(() => applyPaint(tube({ rings: 9 }), "limb", bytes)).toThrow(/it was painted on/);
    expect(() =>
      applyPaint(
        {
          ...limb,
          skeleton: { ...limb.skeleton!, joints: limb.skeleton!.joints.map((j) => ({ ...j, name: `${j.name} x` })) },
        },
        "limb",
        bytes,
      ),
    ).toThrow(/no joint named/);
    expect(() => applyPaint(limb, "limb", encodePaintOfNothing())).toThrow(/cannot be read/);
  });
});

const encodePaintOfNothing = (): Uint8Array => {
  const paint = beginPaint(limb, "limb");
  dabPaint(paint, 1, "add", 1, new Map([[5, 1]]), false, new Map());
  const bytes = encodePaint(limb, paint)!;
  const text = Buffer.from(bytes).toString("latin1").replace('"joints"', '"jointx"');
  return Uint8Array.from(Buffer.from(text, "latin1"));
};
