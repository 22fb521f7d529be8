import { CAST, loadOda } from "../../../demo/cast";
import { ODA_DELIVERY_1_PAIR } from "../../../demo/faults/plantedFaults";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { makeFaceGauge, readFace } from "../../measure/faceGauge";
import { lipCross, makeLipGauge } from "../../measure/lipCross";
import { shapeNamed, type Character } from "../../model/character";
import { deriveShapes } from "../../shapes/deriveShapes";
import { characterWith } from "../../../tests/helpers/characters";
import { PROFILES } from "../profile";
import { pairFindings } from "./pairFindings";
import { answerPair } from "./answerPairs";
import { searchMixes } from "./searchMixes";
import {
  allPairs,
  makeFaceReader,
  pairedShapes,
  pairKey,
  pairRows,
  readPair,
  type PairRow,
  type ShapePair,
} from "./readPairs";

const base = await loadOda();
const delivered = CAST.find((m) => m.id === "oda-delivery-1")!.make(base);
const [clean, first] = await Promise.all([base, delivered].map((c) => pairRows(c, PROFILES.realtime)));
const isPlanted = (r: PairRow): boolean =>
  r.measure === "lipCross" && ODA_DELIVERY_1_PAIR.shapes.every((s) => r.a === s || r.b === s);

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
    expect(
      pairFindings(first!.rows, PROFILES.realtime).find(
        (f) => f.pair?.includes("AU18") && f.pair.includes("AU12_left"),
      ),
    ).toMatchObject({ check: "face.lip-cross", severity: "error", unit: "mm", limit: 1 });
  });
  it("stand worst first, each beyond its limit and beyond either alone", () => {
    clean!.rows.slice(1).forEach((r, i) => expect(r.excess).toBeLessThanOrEqual(clean!.rows[i]!.excess));
    for (const r of clean!.rows) expect(r.value).toBeGreaterThan(r.alone);
  });
  it("are the same for left and right where the shapes mirror each other", () => {
    const swap = (name: string): string => name.replace(/left|right/, (w) => (w === "left" ? "right" : "left"));
    const key = (r: PairRow, flip: boolean): string =>
      [r.measure, ...[r.a, r.b].map((n) => (flip ? swap(n) : n)).sort()].join(" ");
    const one = clean!.rows.filter((r) => r.measure === "lipCross" && r.value > 1.2).map((r) => key(r, false));
    const all = new Set(clean!.rows.map((r) => key(r, true)));
    // the triangles of quads lie the same way round on both sides, so a value at its limit may fall on either side of
    // it
    expect(one.filter((k) => !all.has(k)).length).toBeLessThanOrEqual(0.1 * one.length);
  });
  it("are refused without a body", async () =>
    await expect(pairRows(characterWith({}), PROFILES.film)).rejects.toThrow(/no body/));
});

describe("one reading of a face", () => {
  const rig = makeRig(delivered);
  const gauge = makeFaceGauge(rig)!;
  const shapes = (...names: string[]): (typeof delivered.shapes)[number][] =>
    names.map((n) => delivered.shapes.find((s) => s.name === n)!);
  it("agrees with the measures taken the plain way, on the deformed figure", () => {
    const lips = makeLipGauge(rig)!;
    for (const names of [["AU12_left", "AU18"], ["AU17", "AU30_left"], ["AU26"]]) {
      const P = deform(
        rig,
        { ...REST_MOMENT, weights: Object.fromEntries(names.map((n) => [n, 1])), drivers: false },
        { normals: false },
      ).positions[gauge.part]!;
      expect(
        readFace(
          gauge,
          shapes(...names).map((s) => [s, 1] as const),
        ).lipCross,
      ).toBeCloseTo(1000 * lipCross(rig, lips, P).depth, 2);
    }
  });
  it("of no shape is clean, and of the planted blink shows the eye", () => {
    expect(readFace(gauge, [])).toEqual({
      lipCross: 0,
      eyeThroughLid: 0,
      stretch: 1,
      flips: 0,
      lidGap: 0,
      teethThrough: 0,
      tongueThrough: 0,
    });
    expect(readFace(gauge, [[shapes("AU43_left")[0]!, 1]]).eyeThroughLid).toBeGreaterThan(0.3);
  });
});

describe("pairs that were answered", () => {
  const wick = CAST.find((m) => m.id === "wick")!.make(base);
  it("are all within their limits on Wick, who brings his combinations", async () => {
    const run = await pairRows(wick, PROFILES.realtime);
    expect(run.rows).toEqual([]);
    expect(run.pairCount).toBeGreaterThan(1770);
  });
  const reader = makeFaceReader(delivered);
  const planted = [...ODA_DELIVERY_1_PAIR.shapes] as unknown as ShapePair;
  const answer = answerPair(reader, planted, PROFILES.realtime, new Set())!;
  const answered = deriveShapes(delivered, [answer]);
  it("lose as little as will do: one step less is over the limit", () => {
    const at = (share: number): number =>
      reader.read(new Map(planted.map((n) => [n, 1])), [
        [shapeNamed(delivered, answer.label.split(" gives")[0]!)!, -share],
      ]).lipCross;
    const share = -(answer.from as { of: { weight: number }[] }).of[0]!.weight;
    expect(at(0)).toBeGreaterThan(1);
    expect(at(share)).toBeLessThanOrEqual(Math.max(0.9, ...planted.map((n) => reader.alone(n).lipCross)) + 1e-3);
    expect(at(share - 1 / 8)).toBeGreaterThan(0.9);
  });
  it("leave each shape alone as it was", () => {
    const after = makeFaceReader(answered);
    for (const n of planted) expect(after.alone(n)).toEqual(reader.alone(n));
    expect(readPair(after, planted, PROFILES.realtime)).toEqual([]);
  });
  it("are not answered twice, nor when nothing is wrong", () => {
    expect(answerPair(makeFaceReader(answered), planted, PROFILES.realtime, new Set())).toBeNull();
    expect(answerPair(reader, ["AU1_left", "AU26"], PROFILES.realtime, new Set())).toBeNull();
  });
  it("are read again only where something they depend on changed", () => {
    const pairs = allPairs(pairedShapes(delivered));
    const changed = (to: Character): string[] =>
      pairs.filter((p) => pairKey(to, p) !== pairKey(delivered, p)).map((p) => p.join(" + "));
    expect(changed(answered)).toEqual([pairs.find((p) => planted.every((n) => p.includes(n)))!.join(" + ")]);
    const edited = {
      ...delivered,
      shapes: delivered.shapes.map((s) =>
        s.name === "AU18" ? { ...s, deltas: s.deltas.map((d) => ({ ...d, deltas: d.deltas.map((x) => x * 0.9) })) } : s,
      ),
    };
    expect(changed(edited).length).toBe(pairedShapes(delivered).length - 1);
    expect(changed(edited).every((p) => p.includes("AU18"))).toBe(true);
    // the same movement in other objects is the same
    expect(
      changed({
        ...delivered,
        shapes: delivered.shapes.map((s) => ({
          ...s,
          deltas: s.deltas.map((d) => ({ ...d, deltas: d.deltas.slice() })),
        })),
      }),
    ).toEqual([]);
  });
});

describe("mixes found by chance", () => {
  it(
    "are the same for the same seed, others for another, " + "worst first, each beyond its limit and inside 0..1",
    async () => {
      const [one, again, other] = await Promise.all(
        [7, 7, 8].map((seed) => searchMixes(delivered, PROFILES.realtime, seed, 60)),
      );
      expect(again).toEqual(one);
      expect(other!.bad).not.toEqual(one!.bad);
      expect(one!.bad.length).toBeGreaterThan(0);
      one!.bad.slice(1).forEach((m, i) => expect(m.excess).toBeLessThanOrEqual(one!.bad[i]!.excess));
      const reader = makeFaceReader(delivered);
      for (const m of one!.bad) {
        expect(Object.keys(m.weights).length).toBeGreaterThanOrEqual(2);
        for (const w of Object.values(m.weights)) expect(w > 0 && w <= 1).toBe(true);
        expect(m.value).toBeGreaterThan(m.limit);
        expect(reader.read(new Map(Object.entries(m.weights)))[m.measure]).toBeCloseTo(m.value, 6);
      }
    },
  );
});
