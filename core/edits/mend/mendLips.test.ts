import { loadOda } from "../../../demo/cast";
import { runChecks } from "../../checks/runChecks";
import { PROFILES } from "../../checks/profile";
import { makeRig } from "../../deform/rig";
import { lipCross, makeLipGauge } from "../../measure/lipCross";
import { readFace, makeFaceGauge } from "../../measure/faceGauge";
import { makeWall, piercing } from "../../measure/throughSkin";
import { shapeNamed, type Character, type Shape } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { mixShapes } from "../../shapes/mixShapes";
import { mend, mendSentence } from "../../checks/mend";
import { partLips, sealLips } from "./mendLips";

const oda = await loadOda();
const mixed = (name: string, shares: Readonly<Record<string, number>>): Shape => ({
  name,
  label: name,
  deltas: mixShapes(Object.entries(shares).map(([n, w]) => [shapeNamed(oda, n)!, w] as const)),
});
const having = (...shapes: Shape[]): Character => ({
  ...oda,
  shapes: [...oda.shapes.filter((s) => !shapes.some((t) => t.name === s.name)), ...shapes],
});
const found = async (c: Character, check: string): Promise<[string | null, number][]> =>
  (await runChecks(c, PROFILES.film, { only: [check] })).findings.map((f) => [f.shape, f.value ?? 0]);
const body = oda.parts.findIndex((p) => p.kind === "body");
const crossing = (c: Character, name: string): number => {
  const rig = makeRig(c);
  return (
    1000 *
    lipCross(
      rig,
      makeLipGauge(rig)!,
      movedBy(
        c.parts[body]!,
        shapeNamed(c, name)!.deltas.find((d) => d.part === body)!,
      ).moved,
    ).depth
  );
};

describe("lips that push into each other", () => {
  const pressed = having(mixed("AU29", { AU29: 1, lip_seal: 0.9 }));
  it("are found shape by shape; those of the figure's own shapes are within the limit", async () => {
    expect(await found(oda, "face.lip-cross")).toEqual([]);
    const [first] = await found(pressed, "face.lip-cross");
    expect(first![0]).toBe("AU29");
    expect(first![1]).toBeCloseTo(crossing(pressed, "AU29"), 6);
  });
  it("count for a shape of one's own with the jaw as it is meant: what only shuts an open mouth is none", async () => {
    expect(crossing(oda, "lip_seal")).toBeGreaterThan(1);
    expect(await found(having({ ...mixed("smirk", { lip_seal: 1 }) }), "face.lip-cross")).toEqual([]);
  });
  it("are drawn apart with one click, and nothing but the skin round the mouth is touched", async () => {
    const finding = (await runChecks(pressed, PROFILES.film, { only: ["face.lip-cross"] })).findings[0]!;
    expect(mendSentence(finding)).toMatch(/Draws the lips apart in AU29/);
    const mended = mend(pressed, finding);
    expect(await found(mended, "face.lip-cross")).toEqual([]);
    expect(crossing(mended, "AU29")).toBeLessThan(1);
    const P = oda.parts[body]!.positions;
    const [a, b] = [pressed, mended].map(
      (c) =>
        movedBy(
          c.parts[body]!,
          shapeNamed(c, "AU29")!.deltas.find((d) => d.part === body)!,
        ).moved,
    ) as [Float32Array, Float32Array];
    const centre = makeLipGauge(makeRig(oda))!.finder.region.centre;
    for (let v = 0; v < P.length / 3; v++)
      if (Math.hypot(a[3 * v]! - b[3 * v]!, a[3 * v + 1]! - b[3 * v + 1]!, a[3 * v + 2]! - b[3 * v + 2]!) > 1e-5)
        expect(Math.hypot(P[3 * v]! - centre[0], P[3 * v + 1]! - centre[1], P[3 * v + 2]! - centre[2])).toBeLessThan(
          0.06,
        );
    for (const s of pressed.shapes) if (s.name !== "AU29") expect(shapeNamed(mended, s.name)).toBe(s);
  });
  it("are left as they are when they are within the limit already", () =>
    expect(crossing(partLips(oda, "AU29", 5), "AU29")).toBeCloseTo(crossing(oda, "AU29"), 3));
  it("are refused without a mouth", () =>
    expect(() => partLips({ ...oda, shapes: [shapeNamed(oda, "AU1_left")!] }, "AU1_left", 1)).toThrow(
      /lips are not found/,
    ));
});

describe("lips that do not meet at p, b, m", () => {
  it.each([0.1, 0.2, 0.4])(
    "are sealed with one click from %d of a jaw drop, and do not go into each other",
    async (jaw) => {
      const open = having(mixed("viseme_1", { viseme_1: 1, AU26: jaw }));
      const [finding] = (await runChecks(open, PROFILES.film, { only: ["face.lip-seal"] })).findings;
      expect(finding!.value).toBeGreaterThan(1);
      const sealed = mend(open, finding!);
      expect(await found(sealed, "face.lip-seal")).toEqual([]);
      expect(crossing(sealed, "viseme_1")).toBeLessThan(1);
    },
  );
  it("stay as they are when they are shut", () =>
    expect(
      shapeNamed(sealLips(oda, "viseme_1", 0.5), "viseme_1")!.deltas.find((d) => d.part === body)!.vertices.length,
    ).toBeGreaterThan(0));
});

describe("what a face reading tells besides", () => {
  const gauge = makeFaceGauge(makeRig(oda))!;
  const share = (name: string, weight = 1): [Shape, number] => [shapeNamed(oda, name)!, weight];
  it("an eye that is meant to shut and stays open, not one that another unit opens", () => {
    expect(readFace(gauge, [share("AU43_left")]).lidGap).toBeLessThanOrEqual(0.3);
    expect(readFace(gauge, [share("AU43_left", 1), [mixed("x", { AU43_left: -0.3 }), 1]]).lidGap).toBeGreaterThan(1);
    expect(readFace(gauge, [share("AU43_left", 0.5)]).lidGap).toBe(0);
    expect(readFace(gauge, [share("AU43_left"), share("AU5_left")]).lidGap).toBe(0);
  });
  it("a tongue that comes through lips which close round it", () => {
    expect(readFace(gauge, [share("AU19")]).tongueThrough).toBeLessThanOrEqual(0.2);
    expect(readFace(gauge, [share("AU19"), share("AU17")]).tongueThrough).toBeGreaterThan(1);
  });
  it("teeth that are pushed out through the lips, not those behind them", () => {
    const teeth = oda.parts.findIndex((p) => p.kind === "teeth");
    const count = oda.parts[teeth]!.positions.length / 3;
    const out = (mm: number): Shape => ({
      name: "out",
      label: "out",
      deltas: [
        {
          part: teeth,
          vertices: Uint32Array.from({ length: count }, (_, v) => v),
          deltas: Float32Array.from({ length: 3 * count }, (_, i) => (i % 3 === 2 ? mm / 1000 : 0)),
        },
      ],
    });
    expect([3, 9].map((mm) => readFace(gauge, [[out(mm), 1]]).teethThrough > 1)).toEqual([false, true]);
  });
});

describe("a wall of skin before a part", () => {
  it("is pierced by none of the teeth at rest beyond what is kept as rest", () => {
    const rig = makeRig(oda);
    oda.parts.forEach((p, i) => {
      if (p.kind !== "teeth") return;
      const wall = makeWall(rig, body, i);
      expect(piercing(wall, p.positions, oda.parts[body]!.positions).depth).toBe(wall.rest);
    });
  });
});

describe("coverage as a check", () => {
  it("tells what is missing of each system, and asks nothing of a figure without such shapes", async () => {
    const less = {
      ...oda,
      shapes: oda.shapes.filter((s) => !["AU1_left", "AU1_right", "AU2_right", "joy", "viseme_3"].includes(s.name)),
    };
    const { findings } = await runChecks(less, PROFILES.film, { only: ["shapes.coverage"] });
    expect(findings.map((f) => [f.value, f.severity])).toEqual(
      expect.arrayContaining([
        [2, "note"],
        [1, "note"],
      ]),
    );
    expect(findings.find((f) => f.message.includes("action units"))!.message).toMatch(
      /2 of 25 action units have no shape and no mix: AU1, AU2 \(one side\)/,
    );
    for (const c of [oda, { ...oda, shapes: [] }, { ...oda, shapes: [{ ...oda.shapes[0]!, name: "own" }] }])
      expect((await runChecks(c, PROFILES.film, { only: ["shapes.coverage"] })).findings).toEqual([]);
  });
});
