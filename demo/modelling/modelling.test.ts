import fc from "fast-check";
import { facesTurnedBy } from "../../core/measure/facesTurnedBy";
import type { ShapeDelta } from "../../core/model/character";
import { partOf, tube } from "../../tests/helpers/characters";
import { monotoneTable } from "./monotoneTable";
import { unfoldShape } from "./unfoldShape";

describe("monotone tables", () => {
  it("pass through their rows and stay constant outside", () => {
    const table = monotoneTable([
      [0, 1, 5],
      [1, 2, 5],
      [3, 2.5, 4],
    ]);
    expect(table(0)).toEqual([1, 5]);
    expect(table(1)).toEqual([2, 5]);
    expect(table(-9)).toEqual([1, 5]);
    expect(table(99)).toEqual([2.5, 4]);
  });
  it("never overshoot, and rise where their rows rise", () => {
    const rows = fc
      .array(fc.double({ min: 0.01, max: 2, noNaN: true }), { minLength: 2, maxLength: 8 })
      .chain((steps) =>
        fc.tuple(
          fc.constant(steps),
          fc.array(fc.double({ min: 0, max: 5, noNaN: true }), { minLength: steps.length, maxLength: steps.length }),
        ),
      );
    fc.assert(
      fc.property(
        rows,
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        ([steps, rises], a, b) => {
          let x = 0;
          let y = 0;
          const list = steps.map((s, i) => [(x += s), (y += rises[i]!)] as const);
          const table = monotoneTable(list);
          const at = (t: number): number => table(list[0]![0] + t * (x - list[0]![0]))[0]!;
          const [lo, hi] = a < b ? [a, b] : [b, a];
          expect(at(lo)).toBeLessThanOrEqual(at(hi) + 1e-9);
          expect(at(lo)).toBeGreaterThanOrEqual(list[0]![1] - 1e-9);
          expect(at(hi)).toBeLessThanOrEqual(y + 1e-9);
        },
      ),
    );
  });
  it("refuse rows out of order", () => {
    expect(() =>
      monotoneTable([
        [1, 0],
        [1, 2],
      ]),
    ).toThrow(/ascending/);
    expect(() => monotoneTable([[1, 0]])).toThrow(/two or more/);
  });
});

describe("unfolding", () => {
  const grid = partOf(
    "grid",
    Array.from({ length: 49 }, (_, i): [number, number, number] => [i % 7, Math.floor(i / 7), 0]),
    Array.from({ length: 36 }, (_, f) => {
      const v = Math.floor(f / 6) * 7 + (f % 6);
      return [v, v + 1, v + 8, v + 7];
    }),
  );
  const delta = (moves: Record<number, [number, number, number]>): ShapeDelta => ({
    part: 0,
    vertices: Uint32Array.from(Object.keys(moves).map(Number)),
    deltas: Float32Array.from(Object.values(moves).flat()),
  });
  it("leaves a shape that turns nothing as it is", () => {
    const fine = delta({ 24: [0.2, 0.1, 0.5] });
    expect(unfoldShape(grid, fine)).toBe(fine);
  });
  it("ends with no face turned, and moves only what is near", () => {
    const folded = delta({ 24: [2.4, 0, 0], 0: [0, 0, 0.3] });
    expect(facesTurnedBy(grid, folded).length).toBeGreaterThan(0);
    const mended = unfoldShape(grid, folded);
    expect(facesTurnedBy(grid, mended)).toEqual([]);
    const at = (d: ShapeDelta, v: number): number[] => {
      const k = d.vertices.indexOf(v);
      return k < 0 ? [0, 0, 0] : Array.from(d.deltas.subarray(3 * k, 3 * k + 3));
    };
    expect(at(mended, 0)[2]).toBeCloseTo(0.3, 6);
    expect(at(mended, 24)[0]).toBeGreaterThan(0);
    expect(at(mended, 48)).toEqual([0, 0, 0]);
  });
  it("finds turned faces on a closed surface", () =>
    expect(facesTurnedBy(tube().parts[0]!, delta({ 100: [0, 0.2, 0] })).length).toBeGreaterThan(0));
});
