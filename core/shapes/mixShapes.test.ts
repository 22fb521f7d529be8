import fc from "fast-check";
import { characterWith, partOf, shapeOf } from "../../tests/helpers/characters";
import type { Character, Shape, ShapeDelta } from "../model/character";
import { mixShapes } from "./mixShapes";
import { shapesAsSeen } from "./shapesAsSeen";

const delta = (part: number, moves: Readonly<Record<number, readonly [number, number, number]>>): ShapeDelta => ({
  part,
  vertices: Uint32Array.from(Object.keys(moves), Number),
  deltas: Float32Array.from(Object.values(moves).flat()),
});
const at = (deltas: readonly ShapeDelta[], part: number, vertex: number): number[] | null => {
  const d = deltas.find((x) => x.part === part);
  const k = d ? d.vertices.indexOf(vertex) : -1;
  return k < 0 ? null : Array.from(d!.deltas.subarray(3 * k, 3 * k + 3));
};

describe("a weighted sum of shapes", () => {
  it("adds what moves the same vertex, part by part, in order", () => {
    const sum = mixShapes([
      [{ deltas: [delta(2, { 5: [1, 0, 0], 1: [0, 1, 0] })] }, 0.5],
      [{ deltas: [delta(0, { 3: [0, 0, 4] }), delta(2, { 5: [1, 2, 0] })] }, -1],
    ]);
    expect(sum.map((d) => [d.part, [...d.vertices]])).toEqual([
      [0, [3]],
      [2, [1, 5]],
    ]);
    expect(at(sum, 2, 5)).toEqual([-0.5, -2, 0]);
    expect(at(sum, 2, 1)).toEqual([0, 0.5, 0]);
    expect(at(sum, 0, 3)).toEqual([0, 0, -4]);
  });
  it("of none, and of shapes that move nothing, is none", () => {
    expect(mixShapes([])).toEqual([]);
    expect(mixShapes([[{ deltas: [] }, 1]])).toEqual([]);
    expect(mixShapes([[{ deltas: [delta(1, {})] }, 1]]).map((d) => d.vertices.length)).toEqual([0]);
  });
  it("keeps vertices that come to nothing: a shape less itself still names them", () => {
    const shape = { deltas: [delta(0, { 4: [1, 2, 3] })] };
    expect(
      at(
        mixShapes([
          [shape, 1],
          [shape, -1],
        ]),
        0,
        4,
      ),
    ).toEqual([0, 0, 0]);
  });
  it("is, for any shapes, what adding vertex by vertex gives", () => {
    const move = fc.tuple(
      ...[0, 1, 2].map(() => fc.float({ noNaN: true, noDefaultInfinity: true, min: -10, max: 10 })),
    );
    const one = fc.array(
      fc.tuple(fc.nat(3), fc.uniqueArray(fc.tuple(fc.nat(40), move), { selector: ([v]) => v, maxLength: 12 })),
      { maxLength: 3 },
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(one, fc.double({ min: -2, max: 2, noNaN: true })), { maxLength: 5 }), (list) => {
        const shares = list.map(
          ([parts, weight]) =>
            [
              {
                deltas: parts.map(([part, moves]) => ({
                  part,
                  vertices: Uint32Array.from(moves, ([v]) => v),
                  deltas: Float32Array.from(moves.flatMap(([, m]) => m as number[])),
                })),
              },
              weight,
            ] as const,
        );
        const plain = new Map<string, number[]>();
        for (const [{ deltas }, weight] of shares)
          for (const d of deltas)
            d.vertices.forEach((v, k) => {
              const sum = plain.get(`${d.part} ${v}`) ?? [0, 0, 0];
              plain.set(
                `${d.part} ${v}`,
                sum.map((x, c) => x + weight * d.deltas[3 * k + c]!),
              );
            });
        const sum = mixShapes(shares);
        expect(sum.reduce((n, d) => n + d.vertices.length, 0)).toBe(plain.size);
        for (const [key, wanted] of plain) {
          const [part, v] = key.split(" ").map(Number) as [number, number];
          at(sum, part, v)!.forEach((x, c) => expect(Math.abs(x - wanted[c]!)).toBeLessThan(1e-4));
        }
      }),
    );
  });
});

describe("shapes as they are seen", () => {
  const skin = partOf(
    "skin",
    [
      [0, 0, 0],
      [1, 0, 0],
      [0, 1, 0],
    ],
    [[0, 1, 2]],
  );
  const [a, b, ab, half, flesh] = ["a", "b", "a and b", "a halfway", "elbow flesh"].map((name, i) =>
    shapeOf(name, { [i % 3]: [i + 1, 0, 0] }),
  ) as [Shape, Shape, Shape, Shape, Shape];
  const base: Character = characterWith({
    parts: [skin],
    shapes: [a, b, ab, half, flesh],
    drivers: [
      {
        shape: "elbow flesh",
        joint: "elbow",
        axis: [1, 0, 0],
        fromDegrees: 0,
        toDegrees: 90,
        easing: "linear",
        intensity: 1,
        enabled: true,
      },
    ],
    shapeDrivers: [
      { shape: "a and b", of: ["a", "b"], rule: "product", enabled: true },
      { shape: "a halfway", of: ["a"], rule: "in-between", span: { from: 0, peak: 0.4, to: 1 }, enabled: true },
    ],
  });
  const seen = (c: Character, name: string): Shape | undefined => shapesAsSeen(c).find((s) => s.name === name);
  it("are plain ones as they are, a combination with what it answers, an in-between with its shape at the peak", () => {
    expect(seen(base, "a")).toBe(a);
    expect(at(seen(base, "a and b")!.deltas, 0, 0)).toEqual([1, 0, 0]);
    expect(at(seen(base, "a and b")!.deltas, 0, 1)).toEqual([2, 0, 0]);
    expect(at(seen(base, "a and b")!.deltas, 0, 2)).toEqual([3, 0, 0]);
    expect(at(seen(base, "a halfway")!.deltas, 0, 0)![0]).toBeCloseTo(4 + 0.4, 6);
  });
  it("leave out what joints drive and what is switched off", () => {
    expect(seen(base, "elbow flesh")).toBeUndefined();
    expect(
      seen({ ...base, shapeDrivers: base.shapeDrivers.map((d) => ({ ...d, enabled: false })) }, "a and b"),
    ).toBeUndefined();
  });
  it("are found once for a character, and anew for a changed one", () => {
    expect(shapesAsSeen(base)).toBe(shapesAsSeen(base));
    expect(
      at(
        seen({ ...base, shapes: [a, { ...b, deltas: [delta(0, { 1: [9, 0, 0] })] }, ab, half, flesh] }, "a and b")!
          .deltas,
        0,
        1,
      ),
    ).toEqual([9, 0, 0]);
  });
});
