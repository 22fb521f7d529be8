import { loadOda } from "../../../demo/cast";
import { EXPRESSIONS, PRESETS, VISEMES } from "../../../demo/mixes";
import type { Character } from "../../model/character";
import { applyStep } from "../../ledger/applyStep";
import { stepSchema, type Step } from "../../ledger/steps";
import { writeGlb } from "../../formats/glb/writeGlb";
import { readGlb } from "../../formats/glb/readGlb";
import { characterWith, shapeOf, tube } from "../../../tests/helpers/characters";
import { coverage, type CoverageItem } from "./coverage";
import { ACTION_UNITS } from "./unitNames";

const oda = await loadOda();
const units: Character = { ...oda, shapes: oda.shapes.filter((s) => /^AU/.test(s.name)) };
const at = (c: Character, key: string): CoverageItem => coverage(c).find((i) => i.key === key)!;
const done = (c: Character, step: Step): Character => applyStep(c, stepSchema.parse(step), () => undefined);

describe("coverage", () => {
  it("asks for every unit, the 14 visemes, the 6 expressions and the 17 presets that need a shape", () => {
    const count = (system: string): number => coverage(characterWith({})).filter((i) => i.system === system).length;
    expect([count("action units"), count("visemes"), count("expressions"), count("presets")]).toEqual([
      ACTION_UNITS.length,
      VISEMES.length,
      EXPRESSIONS.length,
      PRESETS.length,
    ]);
    expect(coverage(characterWith({})).every((i) => i.state === "missing" && i.start === null)).toBe(true);
  });
  it("finds that Oda does all of it, by shapes", () =>
    expect(coverage(oda).filter((i) => i.state !== "shape")).toEqual([]));
  it("says what one half does, and what a whole one does", () => {
    const half = { ...units, shapes: units.shapes.filter((s) => s.name !== "AU12_right") };
    expect(at(half, "AU12")).toMatchObject({ state: "half", shapes: ["AU12_left"] });
    expect(at(units, "AU12")).toMatchObject({ state: "shape", shapes: ["AU12_left", "AU12_right"] });
    expect(at({ ...tube(), shapes: [shapeOf("au_12", { 1: [0.01, 0, 0] })] }, "AU12").state).toBe("shape");
  });
  it("begins expressions from the units that are there, and only where those that carry them are", () => {
    expect(at(units, "joy").start!.shares).toEqual(
      expect.arrayContaining([
        { shape: "AU12_left", weight: 1 },
        { shape: "AU6_right", weight: 0.9 },
      ]),
    );
    expect(at(units, "blinkLeft").start!.shares).toEqual([{ shape: "AU43_left", weight: 1 }]);
    expect(at({ ...units, shapes: units.shapes.filter((s) => !s.name.startsWith("AU12")) }, "joy").start).toBeNull();
  });
});

describe("mixes", () => {
  const joy = at(units, "joy").start!;
  const mixed = done(units, {
    op: "set mix",
    mixes: [
      { name: "joy", shares: joy.shares.map((s) => ({ ...s })) },
      { name: "own", shares: [{ shape: "AU1_left", weight: 0.5 }], blocks: ["gaze"] },
    ],
  });
  it("cover what they are named for", () => expect(at(mixed, "joy")).toMatchObject({ state: "mix", start: null }));
  it("are changed in place, and taken out", () => {
    const changed = done(mixed, { op: "set mix", mixes: [{ name: "joy", shares: [{ shape: "AU25", weight: 1 }] }] });
    expect(changed.mixes!.map((m) => m.name)).toEqual(["joy", "own"]);
    expect(changed.mixes![0]!.shares).toEqual([{ shape: "AU25", weight: 1 }]);
    expect(done(changed, { op: "remove mix", name: "joy" }).mixes!.map((m) => m.name)).toEqual(["own"]);
    expect(() => done(mixed, { op: "remove mix", name: "gone" })).toThrow(/no mix named gone/);
    expect(() =>
      done(mixed, { op: "set mix", mixes: [{ name: "m", shares: [{ shape: "gone", weight: 1 }] }] }),
    ).toThrow(/no shape named gone/);
  });
  it("follow their shapes when these are renamed, and go on without one that is removed", () => {
    const renamed = done(mixed, { op: "rename", kind: "shapes", names: [{ from: "AU1_left", to: "inner_left" }] });
    expect(renamed.mixes![1]!.shares[0]!.shape).toBe("inner_left");
    expect(
      done(mixed, { op: "remove shapes", names: ["AU12_left"] }).mixes![0]!.shares.some((s) => s.shape === "AU12_left"),
    ).toBe(false);
  });
  it("survive a GLB", async () => {
    const limb: Character = {
      ...tube(),
      shapes: [shapeOf("a", { 1: [0.01, 0, 0] })],
      mixes: [{ name: "m", shares: [{ shape: "a", weight: 0.3 }], blocks: ["blink", "mouth"] }],
    };
    expect((await readGlb(await writeGlb(limb), "c.glb")).mixes).toEqual(limb.mixes);
  });
});
