import { faceArea } from "../../core/measure/faceArea";
import { skinWeights } from "./rig/skinWeights";
import { makeShoes } from "./shoes";
import { buildSkin } from "./skin/buildSkin";

const skin = buildSkin();
const { points, weights, uppers, soles } = makeShoes(skin, skinWeights(skin));
const sidesOf = (faces: readonly (readonly number[])[]): [number, number][] =>
  faces.flatMap((f) => f.map((a, k): [number, number] => [a, f[(k + 1) % f.length]!]));

describe("shoes", () => {
  it("are a pair, left and right alike, each vertex bound in full", () => {
    expect(Math.abs(points.reduce((sum, [x]) => sum + x, 0) / points.length)).toBeLessThan(1e-4);
    expect(weights.length).toBe(points.length);
    expect(Math.max(...weights.map((list) => Math.abs(1 - list.reduce((sum, [, w]) => sum + w, 0))))).toBeLessThan(
      1e-9,
    );
    expect(Math.max(...weights.map((list) => list.length))).toBeLessThanOrEqual(4);
  });
  it("stand on the ground: uppers above a level cut, soles flat below it", () => {
    const heights = (faces: readonly (readonly number[])[]): number[] => faces.flat().map((v) => points[v]![1]);
    expect(Math.min(...heights(uppers))).toBeCloseTo(0.017, 9);
    expect(new Set(heights(soles).map((y) => y.toFixed(6)))).toEqual(new Set(["0.000000", "0.017000"]));
  });
  it("are two closed shells, open only where the feet go in", () => {
    const key = (a: number, b: number): string => `${Math.min(a, b)} ${Math.max(a, b)}`;
    const uses = new Map<string, number>();
    const directed = new Set<string>();
    for (const [a, b] of sidesOf([...uppers, ...soles])) {
      uses.set(key(a, b), (uses.get(key(a, b)) ?? 0) + 1);
      directed.add(`${a} ${b}`);
    }
    const open = sidesOf([...uppers, ...soles]).filter(([a, b]) => uses.get(key(a, b)) === 1);
    expect(Math.max(...uses.values())).toBe(2);
    // no side is walked twice the same way: all faces turn alike
    expect(directed.size).toBe(sidesOf([...uppers, ...soles]).length);
    expect(open.length).toBe(2 * 20);
    expect(Math.min(...open.flat().map((v) => points[v]![1]))).toBeGreaterThan(0.04);
  });
  it("have faces with an area", () => {
    const P = points.flat();
    expect(Math.min(...[...uppers, ...soles].map((f) => faceArea(P, f)))).toBeGreaterThan(5e-7);
  });
});
