import { boxPart, figureSkeleton, partOf, skeletonOf, tube } from "../../tests/helpers/characters";
import { clipMatrices } from "../evaluate/clipMatrices";
import { translationOf } from "../math/mat4";
import { fromAxisAngle, slerp } from "../math/quat";
import { NO_JOINT, triangulate, type Clip } from "../model/character";
import { jointNeighbourhoods } from "../skeleton/jointNeighbourhoods";
import { buildBvh } from "../math/bvh";
import { outerTriangles } from "./outerSkin";

describe("what can be seen from outside", () => {
  const all = (n: number): number[] => Array.from({ length: n }, (_, i) => i);
  it("is all of a box", () => {
    const part = boxPart();
    const { triangles } = triangulate(part);
    expect(outerTriangles(buildBvh(triangles, part.positions), part.positions, all(12)).length).toBe(12);
  });
  it("is not the inside of a hollow box", () => {
    const [outer, inner] = [boxPart("o", [1, 1, 1]), boxPart("i", [0.9, 0.9, 0.9])];
    const points = [outer, inner].flatMap((p) =>
      Array.from({ length: 8 }, (_, v): [number, number, number] => [
        p.positions[3 * v]!,
        p.positions[3 * v + 1]!,
        p.positions[3 * v + 2]!,
      ]),
    );
    const quads = (shift: number, flip: boolean): number[][] =>
      Array.from({ length: 6 }, (_, f) => {
        const q = Array.from(outer.corners.subarray(4 * f, 4 * f + 4), (v) => v + shift);
        return flip ? q.reverse() : q;
      });
    const part = partOf("hollow", points, [...quads(0, false), ...quads(8, true)]);
    const { triangles } = triangulate(part);
    expect([...outerTriangles(buildBvh(triangles, part.positions), part.positions, all(24))]).toEqual(all(12));
  });
});

describe("rings of skin round joints", () => {
  it("lie where a joint takes over from its parent", () => {
    const limb = tube({ length: 0.6 });
    const [root, lower] = jointNeighbourhoods(limb.parts[0]!, limb.skeleton!);
    expect(root).toEqual([]);
    expect(lower!.length).toBeGreaterThan(20);
    for (const v of lower!) expect(Math.abs(limb.parts[0]!.positions[3 * v + 1]! - 0.3)).toBeLessThan(0.06);
  });
  it("are empty for a part that is not bound", () =>
    expect(jointNeighbourhoods(boxPart(), figureSkeleton()).every((r) => r.length === 0)).toBe(true));
});

describe("clips at a moment", () => {
  const skeleton = skeletonOf([
    { name: "root", parent: NO_JOINT },
    { name: "tip", parent: 0, translation: [0, 1, 0] },
  ]);
  const turn = (interpolation: "LINEAR" | "STEP"): Clip => ({
    name: "turn",
    tracks: [
      {
        joint: "root",
        path: "rotation",
        interpolation,
        times: Float32Array.of(0, 1),
        values: Float32Array.from([...fromAxisAngle([0, 0, 1], 0), ...fromAxisAngle([0, 0, 1], 90)]),
      },
    ],
  });
  const tip = (clip: Clip, t: number): readonly number[] => translationOf(clipMatrices(skeleton, clip, t), 16);
  it("go evenly between linear keys and wait at stepped ones", () => {
    expect(tip(turn("LINEAR"), 0.5)[0]).toBeCloseTo(-Math.SQRT1_2, 5);
    expect(tip(turn("STEP"), 0.5)[1]).toBeCloseTo(1, 6);
    expect(tip(turn("LINEAR"), 9)[0]).toBeCloseTo(-1, 5);
    expect(tip({ name: "none", tracks: [] }, 0.5)).toEqual([0, 1, 0]);
  });
  it("read a cubic spline at its values", () => {
    const cubic: Clip = {
      name: "c",
      tracks: [
        {
          joint: "tip",
          path: "translation",
          interpolation: "CUBICSPLINE",
          times: Float32Array.of(0, 1),
          values: Float32Array.of(0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 3, 0, 0, 0, 0),
        },
      ],
    };
    expect(tip(cubic, 0)).toEqual([0, 1, 0]);
    expect(tip(cubic, 1)).toEqual([0, 3, 0]);
  });
  it("slerp takes the shorter way at constant speed (Shoemake 1985)", () => {
    const [a, b] = [fromAxisAngle([1, 0, 0], 10), fromAxisAngle([1, 0, 0], 50)];
    const third = slerp(a, b.map((x) => -x) as unknown as typeof b, 0.25);
    expect(Math.abs(third.reduce((s, x, i) => s + x * fromAxisAngle([1, 0, 0], 20)[i]!, 0))).toBeCloseTo(1, 9);
    expect(slerp(a, a, 0.3)).toEqual(a.map((x) => expect.closeTo(x, 9)));
  });
});
