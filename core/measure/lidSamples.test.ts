import { boxPart } from "../../tests/helpers/characters";
import { faceVector, isTurned } from "./faceArea";
import { lidSamples, meanOf } from "./lidSamples";

describe("places asked on the skin", () => {
  const box = boxPart();
  it("are the vertices, the middles of edges and of faces, each once", () => {
    const all = lidSamples(box, () => true);
    const count = (n: number): number => all.filter((s) => s.length === n).length;
    expect([count(1), count(2), count(4)]).toEqual([8, 12, 6]);
  });
  it("are those of faces with one near corner", () => {
    const near = lidSamples(box, (v) => v === 0);
    expect(near.filter((s) => s.length === 4).length).toBe(3);
    expect(near.some((s) => s.length === 1 && s[0] === 7)).toBe(false);
  });
  it("lie at the mean of their vertices", () => {
    const edge = lidSamples(box, () => true).find((s) => s.length === 2)!;
    const [a, b] = edge.map((v) => [0, 1, 2].map((c) => box.positions[3 * v + c]!)) as [number[], number[]];
    meanOf(box.positions, edge).forEach((x, c) => expect(x).toBeCloseTo((a[c]! + b[c]!) / 2, 7));
  });
});

describe("a face that moved", () => {
  const square = Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0);
  const after = (map: (x: number, y: number) => readonly [number, number, number]): boolean => {
    const moved = Float32Array.from([0, 1, 2, 3].flatMap((v) => [...map(square[3 * v]!, square[3 * v + 1]!)]));
    return isTurned(faceVector(square, [0, 1, 2, 3]), faceVector(moved, [0, 1, 2, 3]));
  };
  it.each<[string, (x: number, y: number) => readonly [number, number, number], boolean]>([
    ["shifted", (x, y) => [x + 5, y, 2], false],
    ["tilted by 80 degrees", (x, y) => [x, 0.1736 * y, 0.9848 * y], false],
    ["tilted by 100 degrees", (x, y) => [x, -0.1736 * y, 0.9848 * y], true],
    ["mirrored", (x, y) => [-x, y, 0], true],
    ["pressed to a tenth", (x, y) => [x, 0.1 * y, 0], false],
    ["pressed flat", (x, y) => [x, 0.03 * y, 0], true],
  ])("%s", (_, map, turned) => expect(after(map)).toBe(turned));
});
