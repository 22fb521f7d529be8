import fc from "fast-check";
import { decodeCharacter, encodeCharacter } from "../../formats/container";
import { readGlb } from "../../formats/glb/readGlb";
import { writeGlb } from "../../formats/glb/writeGlb";
import { applyStep } from "../../ledger/applyStep";
import { stepSchema } from "../../ledger/steps";
import type { Character } from "../../model/character";
import { shapeOf, tube } from "../../../tests/helpers/characters";
import { chooseShapes, chosenShapes, type ChoiceRule, type ShapeChoice } from "./chooseShapes";

const NAMES = ["smile_left", "smileRight", "brow.up", "brow.up.2", "jawOpen", "helper", "smile_left_half"];
const character: Character = {
  ...tube(),
  shapes: NAMES.map((n, i) => shapeOf(n, { [i]: [0.01, 0, 0] })),
  shapeDrivers: [{ shape: "helper", of: ["jawOpen"], rule: "in-between", enabled: true }],
};
const rule = (keep: boolean, by: ChoiceRule["by"], text: string): ChoiceRule => ({ keep, by, text });
const kept = (rules: ChoiceRule[], favourites: string[] = []): string[] =>
  chooseShapes(character, { rules, favourites }).shapes.map((s) => s.name);

describe("the choice of shapes", () => {
  it("keeps all where no rule speaks", () => expect(kept([])).toEqual(NAMES));
  it("goes by whole words, however a name is written", () => {
    expect(kept([rule(false, "word", "smile")])).toEqual(["brow.up", "brow.up.2", "jawOpen", "helper"]);
    expect(kept([rule(false, "word", "brow up")])).not.toContain("brow.up");
    expect(kept([rule(false, "word", "row")])).toEqual(NAMES);
  });
  it("goes by wildcard over the whole name", () => {
    expect(kept([rule(false, "wildcard", "brow.*")])).not.toContain("brow.up.2");
    expect(kept([rule(false, "wildcard", "brow.u?")])).toContain("brow.up.2");
    expect(kept([rule(false, "wildcard", "smile(")])).toEqual(NAMES);
  });
  it("goes by region", () => expect(kept([rule(false, "region", "body")])).toEqual(["jawOpen", "helper"]));
  it("lets later rules go over earlier ones", () => {
    expect(kept([rule(false, "wildcard", "*"), rule(true, "word", "smile"), rule(false, "wildcard", "*half")])).toEqual(
      ["smile_left", "smileRight", "jawOpen", "helper"],
    );
    const why = chosenShapes(character, {
      rules: [rule(false, "wildcard", "*"), rule(true, "word", "smile")],
      favourites: ["brow.up"],
    });
    expect(Object.fromEntries(why.map((c) => [c.shape.name, c.because]))).toMatchObject({
      smile_left: 2,
      "brow.up": "favourite",
      helper: "driven",
      jawOpen: "driven",
      "brow.up.2": 1,
    });
  });
  it("always keeps favourites and what is driven or drives", () =>
    expect(kept([rule(false, "wildcard", "*")], ["brow.up"])).toEqual(["brow.up", "jawOpen", "helper"]));
  it("loses nothing: whatever was chosen before, keeping all brings all back", () => {
    const any = fc.array(
      fc.record({
        keep: fc.boolean(),
        by: fc.constantFrom("word" as const, "wildcard" as const),
        text: fc.constantFrom("smile", "brow", "*", "*left*", "2", "jawOpen"),
      }),
      { maxLength: 5 },
    );
    fc.assert(
      fc.property(fc.array(any, { maxLength: 4 }), (choices) => {
        const end = choices.reduce((c, rules) => chooseShapes(c, { rules, favourites: [] }), character);
        const back = chooseShapes(end, { rules: [], favourites: [] });
        expect(back.shapes.map((s) => s.name).sort()).toEqual([...NAMES].sort());
        expect(back.setAside).toEqual([]);
      }),
    );
  });
  it("is a step, is stored with the character, and what is left out is not handed off", async () => {
    const choice: ShapeChoice = { rules: [rule(false, "word", "smile")], favourites: ["brow.up"] };
    const after = applyStep(character, stepSchema.parse({ op: "choose shapes", choice }), () => undefined);
    expect(after.shapeChoice).toEqual(choice);
    expect(decodeCharacter(encodeCharacter(after)).setAside!.map((s) => s.name)).toEqual([
      "smile_left",
      "smileRight",
      "smile_left_half",
    ]);
    expect((await readGlb(await writeGlb(after), "c.glb")).shapes.map((s) => s.name).sort()).toEqual([
      "brow.up",
      "brow.up.2",
      "helper",
      "jawOpen",
    ]);
  });
});
