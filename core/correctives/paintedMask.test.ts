import { changeMask, dabMask, emptyMask, revertMask, underBrush, type MaskRecord } from "./paintedMask";

/** A row of points along x, alike on both sides. */
const P = Float32Array.from([-0.03, -0.02, -0.01, 0, 0.01, 0.02, 0.03].flatMap((x) => [x, 1, 0]));

describe("a painted mask", () => {
  it("begins empty, and a dab lays on most in its middle and nothing beyond its radius", () => {
    const mask = emptyMask(2, P);
    expect([mask.part, ...mask.values]).toEqual([2, 0, 0, 0, 0, 0, 0, 0]);
    const hits = underBrush(P, [0.02, 1, 0], 0.015, "round");
    expect([...hits.keys()]).toEqual([4, 5, 6]);
    expect(hits.get(5)).toBeCloseTo(1, 9);
    expect(hits.get(4)!).toBeLessThan(0.5);
    dabMask(mask, hits, 1, false, new Map());
    expect(mask.values[5]).toBeCloseTo(0.5, 6);
    expect(mask.values[1]).toBe(0);
  });
  it("fills up to one, empties to nothing, and no farther", () => {
    const mask = emptyMask(0, P);
    const hits = underBrush(P, [0.02, 1, 0], 0.015, "even");
    for (let k = 0; k < 5; k++) dabMask(mask, hits, 1, false, new Map());
    expect(mask.values[5]).toBe(1);
    for (let k = 0; k < 9; k++) dabMask(mask, hits, -0.7, false, new Map());
    expect(mask.values.every((x) => x === 0)).toBe(true);
  });
  it("is laid on both sides alike when asked", () => {
    const mask = emptyMask(0, P);
    dabMask(mask, underBrush(P, [0.02, 1, 0], 0.015, "sharp"), 0.8, true, new Map());
    for (let v = 0; v < 7; v++) expect(mask.values[v]).toBeCloseTo(mask.values[6 - v]!, 6);
    expect(mask.values[1]).toBeGreaterThan(0);
  });
  it("goes back by its strokes, one after the other, and forward again", () => {
    const mask = emptyMask(0, P);
    const records: MaskRecord[] = [];
    const states = [mask.values.slice()];
    for (const x of [0.02, -0.01, 0]) {
      const record: MaskRecord = new Map();
      dabMask(mask, underBrush(P, [x, 1, 0], 0.012, "round"), 1, false, record);
      records.push(record);
      states.push(mask.values.slice());
    }
    for (let k = 2; k >= 0; k--) {
      records[k] = revertMask(mask, records[k]!);
      expect([...mask.values]).toEqual([...states[k]!]);
    }
    for (const record of records) revertMask(mask, record);
    expect([...mask.values]).toEqual([...states[3]!]);
  });
  it("is cleared and inverted as a whole, which can be taken back", () => {
    const mask = emptyMask(0, P);
    dabMask(mask, underBrush(P, [0, 1, 0], 0.012, "round"), 1, false, new Map());
    const before = mask.values.slice();
    const inverted = changeMask(mask, "invert");
    mask.values.forEach((x, v) => expect(x).toBeCloseTo(1 - before[v]!, 6));
    revertMask(mask, inverted);
    expect([...mask.values]).toEqual([...before]);
    const cleared = changeMask(mask, "clear");
    expect(mask.values.some((x) => x !== 0)).toBe(false);
    // only what was there is remembered
    expect(cleared.size).toBe([...before].filter((x) => x > 0).length);
    revertMask(mask, cleared);
    expect([...mask.values]).toEqual([...before]);
  });
});
