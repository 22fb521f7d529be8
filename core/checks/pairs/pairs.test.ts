import { CAST, loadOda } from "../../../demo/cast";
import { ODA_DELIVERY_1_PAIR } from "../../../demo/faults/plantedFaults";
import { deform, makeRig, REST_MOMENT } from "../../deform/rig";
import { makeFaceGauge, readFace } from "../../measure/faceGauge";
import { lipCross, makeLipGauge } from "../../measure/lipCross";
import { characterWith } from "../../../tests/helpers/characters";
import { PROFILES } from "../profile";
import { pairFindings, pairedShapes, pairRows, type PairRow } from "./pairFindings";

const base = await loadOda();
const delivered = CAST.find((m) => m.id === "oda-delivery-1")!.make(base);
const [clean, first] = await Promise.all([base, delivered].map((c) => pairRows(c, PROFILES.realtime)));
const isPlanted = (r: PairRow): boolean => r.measure === "lipCross" && ODA_DELIVERY_1_PAIR.shapes.every((s) => r.a === s || r.b === s);

describe("pairs of face shapes", () => {
  it("are all pairs of what is played alone: no builds, mixes or driven shapes", () => {
    const names = pairedShapes(base).map((s) => s.name);
    expect(names).toContain("AU12_left");
    for (const out of ["viseme_1", "joy", "blink", "proportion_broad"]) expect(names).not.toContain(out);
    expect(clean!.pairCount).toBe((names.length * (names.length - 1)) / 2);
    expect(clean!.pairCount).toBeGreaterThan(1770);
    expect(clean!.shapes).toEqual(names);
  });
  it("find the planted smile and pucker of the first delivery, and not in the clean figure", () => {
    const planted = first!.rows.find(isPlanted)!;
    expect(planted.value).toBeGreaterThan(ODA_DELIVERY_1_PAIR.limitMm);
    expect(planted.alone).toBeLessThan(ODA_DELIVERY_1_PAIR.limitMm);
    expect(clean!.rows.some(isPlanted)).toBe(false);
    expect(pairFindings(first!.rows, PROFILES.realtime).find((f) => f.pair?.includes("AU18") && f.pair.includes("AU12_left"))).toMatchObject({ check: "face.lip-cross", severity: "error", unit: "mm", limit: 1 });
  });
  it("stand worst first, each beyond its limit and beyond either alone", () => {
    clean!.rows.slice(1).forEach((r, i) => expect(r.excess).toBeLessThanOrEqual(clean!.rows[i]!.excess));
    for (const r of clean!.rows) expect(r.value).toBeGreaterThan(r.alone);
  });
  it("are the same for left and right where the shapes mirror each other", () => {
    const swap = (name: string): string => name.replace(/left|right/, (w) => (w === "left" ? "right" : "left"));
    const key = (r: PairRow, flip: boolean): string => [r.measure, ...[r.a, r.b].map((n) => (flip ? swap(n) : n)).sort()].join(" ");
    const one = clean!.rows.filter((r) => r.measure === "lipCross" && r.value > 1.2).map((r) => key(r, false));
    const all = new Set(clean!.rows.map((r) => key(r, true)));
    // the triangles of quads lie the same way round on both sides, so a value at its limit may fall on either side of it
    expect(one.filter((k) => !all.has(k)).length).toBeLessThanOrEqual(0.1 * one.length);
  });
  it("are refused without a body", async () => await expect(pairRows(characterWith({}), PROFILES.film)).rejects.toThrow(/no body/));
});

describe("one reading of a face", () => {
  const rig = makeRig(delivered);
  const gauge = makeFaceGauge(rig)!;
  const shapes = (...names: string[]): (typeof delivered.shapes)[number][] => names.map((n) => delivered.shapes.find((s) => s.name === n)!);
  it("agrees with the measures taken the plain way, on the deformed figure", () => {
    const lips = makeLipGauge(rig)!;
    for (const names of [["AU12_left", "AU18"], ["AU17", "AU30_left"], ["AU26"]]) {
      const P = deform(rig, { ...REST_MOMENT, weights: Object.fromEntries(names.map((n) => [n, 1])), drivers: false }, { normals: false }).positions[gauge.part]!;
      expect(readFace(gauge, shapes(...names)).lipCross).toBeCloseTo(1000 * lipCross(rig, lips, P).depth, 2);
    }
  });
  it("of no shape is clean, and of the planted blink shows the eye", () => {
    expect(readFace(gauge, [])).toEqual({ lipCross: 0, eyeThroughLid: 0, stretch: 1, flips: 0 });
    expect(readFace(gauge, shapes("AU43_left")).eyeThroughLid).toBeGreaterThan(0.3);
  });
});
