import { boxPart, characterWith, shapeOf, tube } from "../../tests/helpers/characters";
import type { Character } from "../model/character";
import { applySteps } from "./applyStep";
import { patchBetween, patched } from "./characterPatch";
import { LedgerStates } from "./ledgerStates";
import type { Step } from "./steps";

const base: Character = {
  ...tube(),
  shapes: [shapeOf("bulge", { 10: [0.01, 0, 0] }), shapeOf("dent", { 12: [-0.01, 0, 0] })],
};
const kind: Step = { op: "part kind", part: "limb", kind: "other" };
const rename = (from: string, to: string): Step => ({ op: "rename", kind: "shapes", names: [{ from, to }] });
const remove: Step = { op: "remove shapes", names: ["dent"] };
const none = (): undefined => undefined;

describe("states of a ledger", () => {
  it("are what a replay from the base makes", () => {
    const states = new LedgerStates(10);
    for (const steps of [[], [kind], [kind, remove], [rename("bulge", "swell"), kind, remove], [kind]])
      expect(states.after("b", base, steps, none)).toEqual(applySteps(base, steps, none));
  });
  it("one more step costs only itself: what it leaves alone is the same object", () => {
    const states = new LedgerStates(10);
    const one = states.after("b", base, [rename("bulge", "swell")], none);
    const two = states.after("b", base, [rename("bulge", "swell"), remove], none);
    expect(two.shapes[0]).toBe(one.shapes[0]);
    expect(states.after("b", base, [rename("bulge", "swell")], none)).toBe(one);
  });
  it("say how many steps need no geometry any more", () => {
    const states = new LedgerStates(2);
    const steps = [kind, rename("bulge", "swell"), remove];
    expect(states.held("b", steps)).toBe(0);
    states.after("b", base, steps.slice(0, 2), none);
    expect([
      states.held("b", steps),
      states.held("b", steps.slice(0, 1)),
      states.held("other", steps),
      states.held("b", [remove]),
    ]).toEqual([2, 1, 0, 0]);
    states.after("b", base, [remove, kind], none);
    expect(states.held("b", steps)).toBe(0);
  });
  it("are told apart by their base", () => {
    const states = new LedgerStates(10);
    const other = characterWith({ parts: [boxPart("limb", [0.1, 0.1, 0.1], [0, 0, 0])] });
    expect(states.after("a", base, [kind], none).parts[0]!.positions.length).not.toBe(
      states.after("b", other, [kind], none).parts[0]!.positions.length,
    );
  });
  it("are kept up to so many bytes, the newest whatever its size, and say what they hold", () => {
    const states = new LedgerStates(10, 2000);
    states.after("b", base, [rename("bulge", "x")], none);
    // names alone cost nothing
    expect(states.holding()).toMatchObject({ entries: 1, limit: 2000 });
    const { bytes } = states.holding();
    expect(bytes).toBeLessThan(2000);
    const heavy: Step = { op: "repair", repair: { what: "weld", part: "limb", withinMm: 0.1 } };
    states.after("b", base, [rename("bulge", "x"), heavy], none);
    expect(states.holding().bytes).toBeGreaterThan(2000);
    expect(states.holding().entries).toBe(1);
    expect(states.held("b", [rename("bulge", "x"), heavy])).toBe(2);
  });
  it("the longest unused are forgotten and made anew", () => {
    const states = new LedgerStates(2);
    const first = states.after("b", base, [kind], none);
    states.after("b", base, [rename("bulge", "x")], none);
    states.after("b", base, [kind], none);
    states.after("b", base, [rename("bulge", "y")], none);
    expect(states.after("b", base, [kind], none)).toBe(first);
    states.after("b", base, [rename("bulge", "z")], none);
    states.after("b", base, [rename("bulge", "y")], none);
    const again = states.after("b", base, [kind], none);
    expect(again).not.toBe(first);
    expect(again).toEqual(first);
  });
  it("a step that cannot be applied is told, and the states before it stay", () => {
    const states = new LedgerStates(10);
    const one = states.after("b", base, [kind], none);
    expect(() => states.after("b", base, [kind, { op: "remove shapes", names: ["absent"] }], none)).toThrow(
      /no shape named absent/,
    );
    expect(states.after("b", base, [kind], none)).toBe(one);
  });
});

describe("the change from one character to the next", () => {
  const states: Character[] = [
    base,
    applySteps(base, [kind], none),
    applySteps(base, [remove], none),
    applySteps(base, [rename("dent", "hollow")], none),
    { ...base, mixes: [{ name: "m", shares: [{ shape: "bulge", weight: 1 }] }] },
  ];
  it("makes the same character again after it was sent, from any state to any other", () => {
    for (const before of [null, ...states])
      for (const after of states) expect(patched(before, structuredClone(patchBetween(before, after)))).toEqual(after);
  });
  it("sends nothing of what both share, and that stays the same object", () => {
    const patch = patchBetween(base, states[2]!);
    expect(Object.keys(patch)).toEqual(expect.arrayContaining(["shapes"]));
    const got = patched(base, structuredClone(patch));
    expect(got.parts).toBe(base.parts);
    expect(got.shapes[0]).toBe(base.shapes[0]);
  });
  it("is empty between equals", () => expect(patchBetween(base, { ...base })).toEqual({}));
});
