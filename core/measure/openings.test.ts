import { loadOda } from "../../demo/cast";
import { makeRig } from "../deform/rig";
import { shapeNamed, type Character } from "../model/character";
import { characterWith } from "../../tests/helpers/characters";
import { incisorOpening, lidOpening, lipOpening, lipToTeeth, makeOpeningGauge } from "./openings";

const oda = await loadOda();
const gauge = makeOpeningGauge(makeRig(oda))!;
/** Places of every part with shapes at weights. */
const at = (weights: Readonly<Record<string, number>>, c: Character = oda): Float32Array[] =>
  c.parts.map((part, p) => {
    const P = part.positions.slice();
    for (const [name, w] of Object.entries(weights))
      for (const d of shapeNamed(c, name)!.deltas)
        if (d.part === p)
          d.vertices.forEach((v, k) => {
            for (let i = 0; i < 3; i++) P[3 * v + i]! += w * d.deltas[3 * k + i]!;
          });
    return P;
  });
const rising = (list: readonly number[]): boolean => list.every((x, i) => i === 0 || x >= list[i - 1]! - 1e-9);

describe("how far an eye is open", () => {
  it("falls to nothing as the lids close, on its own side only", () => {
    const steps = [0, 0.25, 0.5, 0.75, 1].map((w) => at({ AU43_left: w }));
    expect(rising(steps.map((P) => -lidOpening(gauge, P, "left")))).toBe(true);
    expect(1000 * lidOpening(gauge, steps[4]!, "left")).toBeLessThanOrEqual(0.3);
    expect(new Set(steps.map((P) => lidOpening(gauge, P, "right"))).size).toBe(1);
  });
  it(
    "grows as the upper lid is raised, and is that of a " +
      "grown eye at rest (8 to 12 mm, common practice, no source)",
    () => {
      expect(rising([0, 0.5, 1].map((w) => lidOpening(gauge, at({ AU5_left: w }), "left")))).toBe(true);
      const mm = 1000 * lidOpening(gauge, at({}), "left");
      expect(mm).toBeGreaterThan(8);
      expect(mm).toBeLessThan(13);
    },
  );
  it("is the same on both sides of a face that is", () =>
    expect(lidOpening(gauge, at({}), "left")).toBeCloseTo(lidOpening(gauge, at({}), "right"), 4));
});

describe("how far the mouth is open", () => {
  it("is shut at rest and opens with the jaw, the lips by less than the teeth", () => {
    expect(lipOpening(gauge, at({}))).toBe(0);
    const lips = [0, 0.3, 0.6, 1].map((w) => lipOpening(gauge, at({ AU26: w })));
    expect(rising(lips)).toBe(true);
    expect(lips[3]!).toBeGreaterThan(0.004);
  });
  it("between the incisors grows by as much as the lower row goes straight down", () => {
    const lower = gauge.lowerTeeth!;
    const rest = incisorOpening(gauge, at({}))!;
    const down = (mm: number): number =>
      incisorOpening(
        gauge,
        at({}).map((P, p) => (p === lower ? P.map((x, i) => (i % 3 === 1 ? x - mm / 1000 : x)) : P)),
      )!;
    // what lies between the edges across stays: the farther down, the less it counts
    const [a, b] = [down(20), down(40)];
    expect(b - a).toBeGreaterThan(0.0185);
    expect(b - a).toBeLessThan(0.0201);
    expect(a).toBeGreaterThan(rest);
  });
});

describe("the lower lip and the upper teeth", () => {
  it("are nearest where f and v are spoken, and farther apart with the jaw", () => {
    const near = lipToTeeth(gauge, at({ viseme_2: 1 }))!;
    expect(1000 * near).toBeLessThanOrEqual(1.5);
    expect(lipToTeeth(gauge, at({ AU26: 1 }))!).toBeGreaterThan(near);
  });
  it("come nearer by as much as the teeth are moved towards the lip, at most", () => {
    const { part } = gauge.upperTeeth!;
    const forward = (mm: number): number =>
      lipToTeeth(
        gauge,
        at({}).map((P, p) => (p === part ? P.map((x, i) => (i % 3 === 2 ? x + mm / 1000 : x)) : P)),
      )!;
    expect(forward(0) - forward(1)).toBeLessThanOrEqual(0.001 + 1e-6);
    expect(forward(1)).toBeLessThan(forward(0));
  });
});

it("nothing is read of a figure without skin", () => expect(makeOpeningGauge(makeRig(characterWith({})))).toBeNull());
