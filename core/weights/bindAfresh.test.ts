import { loadOda } from "../../demo/cast";
import { characterWith, partOf, skeletonOf, tube } from "../../tests/helpers/characters";
import { vertexCountOf, type Part } from "../model/character";
import { bindAfresh } from "./bindAfresh";
import { changeWeights, weightChangeSchema } from "./changeWeights";

const sums = (dense: Float32Array, joints: number): number[] =>
  Array.from({ length: dense.length / joints }, (_, v) =>
    dense.subarray(v * joints, (v + 1) * joints).reduce((a, b) => a + b, 0),
  );

describe("a binding from scratch", () => {
  const limb = tube();
  it.each(["surface", "volume"] as const)(
    "of a limb along the %s gives each half to its joint, a blend between them, and sums of one",
    (way) => {
      const part = limb.parts[0]!;
      const dense = bindAfresh(limb, part, way, 6);
      for (const s of sums(dense, 2)) expect(s).toBeCloseTo(1, 5);
      for (let v = 0; v < vertexCountOf(part); v++) {
        const y = part.positions[3 * v + 1]!;
        if (y < 0.15) expect(dense[2 * v]).toBeGreaterThan(0.99);
        if (y > 0.45) expect(dense[2 * v + 1]).toBeGreaterThan(0.99);
      }
      const middle = Array.from({ length: vertexCountOf(part) }, (_, v) => v).filter(
        (v) => Math.abs(part.positions[3 * v + 1]! - 0.3) < 0.015,
      );
      expect(middle.some((v) => dense[2 * v]! > 0.2 && dense[2 * v]! < 0.8)).toBe(true);
    },
  );
  /** Two tubes side by side, the bone of the second nearer to the first's far wall than the first's own. */
  const strip = (x: number): [number, number, number][] => [
    [x - 0.05, 0, 0],
    [x + 0.05, 0, 0],
    [x + 0.05, 1, 0],
    [x - 0.05, 1, 0],
    [x - 0.05, 0.5, 0],
    [x + 0.05, 0.5, 0],
  ];
  it("along the surface leaves no island on a bone beside it", () => {
    const part = partOf(
      "strips",
      [...strip(0), ...strip(0.08)],
      [
        [0, 1, 5, 4],
        [4, 5, 2, 3],
        [6, 7, 11, 10],
        [10, 11, 8, 9],
      ],
    );
    const c = characterWith({
      parts: [part],
      skeleton: skeletonOf([
        { name: "a", parent: -1, translation: [-0.02, 0, 0] },
        { name: "a tip", parent: 0, translation: [0, 1, 0] },
        { name: "b", parent: -1, translation: [0.1, 0, 0] },
        { name: "b tip", parent: 2, translation: [0, 1, 0] },
      ]),
    });
    const dense = bindAfresh(c, part, "surface", 1);
    for (const s of sums(dense, 4)) expect(s).toBeCloseTo(1, 6);
  });
  it("of the demo's skin holds arms by arms and legs by legs, and no face joint takes part", async () => {
    const oda = await loadOda();
    const after = changeWeights(oda, "body", weightChangeSchema.parse({ tool: "bind afresh", rounds: 8 }));
    const skin = (after.parts[0] as Part).skin!;
    const names = oda.skeleton!.joints.map((j) => j.name);
    const P = after.parts[0]!.positions;
    for (let v = 0; v < vertexCountOf(after.parts[0]!); v++) {
      const heaviest = names[skin.joints[skin.influenceCount * v]!]!;
      expect(heaviest).not.toMatch(/jaw|Eye|tongue/);
      if (P[3 * v]! > 0.45) expect(heaviest).toMatch(/^left/);
      if (P[3 * v + 1]! < 0.4) expect(heaviest).toMatch(P[3 * v]! > 0 ? /^left/ : /^right/);
    }
    expect(skin.influenceCount).toBe(4);
  });
});

describe("weights taken from another part", () => {
  it("are those of the nearest place on it", () => {
    const c = tube();
    const copy: Part = { ...tube({ radius: 0.06 }).parts[0]!, name: "sleeve", kind: "garment", skin: null };
    const two = { ...c, parts: [{ ...c.parts[0]!, kind: "garment" as const }, copy] };
    const after = changeWeights(two, "sleeve", weightChangeSchema.parse({ tool: "take from skin", source: "limb" }));
    const [a, b] = after.parts.map((p) => p.skin!) as [NonNullable<Part["skin"]>, NonNullable<Part["skin"]>];
    const share = (s: typeof a, v: number): number =>
      Array.from({ length: s.influenceCount }, (_, k) =>
        s.joints[s.influenceCount * v + k] === 1 ? s.weights[s.influenceCount * v + k]! : 0,
      ).reduce((x, y) => x + y, 0);
    for (let v = 0; v < 700; v += 50) expect(share(b, v)).toBeCloseTo(share(a, v), 3);
    expect(() =>
      changeWeights(two, "sleeve", weightChangeSchema.parse({ tool: "take from skin", source: "tail" })),
    ).toThrow(/No bound part named tail/);
  });
});
