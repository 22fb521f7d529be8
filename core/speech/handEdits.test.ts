import { placesOf, withEdit, withHand, type HandEdit } from "./handEdits";
import type { SpokenLine } from "./phones";

/** Words of phones, each phone 100 ms, silence at both ends. */
const lineOf = (...words: readonly (readonly [string, string])[]): SpokenLine => {
  let t = 0.1;
  const phones: SpokenLine["phones"][number][] = [{ phone: "sil", from: 0, to: 0.1, stress: 0 }];
  const spans = words.map(([text, list]) => {
    const from = t;
    for (const phone of list.split(" ")) {
      phones.push({ phone, from: t, to: t + 0.1, stress: 1 });
      t += 0.1;
    }
    return { text, from, to: t };
  });
  phones.push({ phone: "sil", from: t, to: t + 0.1, stress: 0 });
  return { seconds: t + 0.1, words: spans, phones };
};
const line = lineOf(["the", "DH AH"], ["big", "B IH G"], ["boat", "B OW T"]);
const longer = lineOf(["a", "AH"], ["the", "DH AH"], ["big", "B IH G"], ["boat", "B OW T"]);

describe("changes by hand", () => {
  it("name a phone by its word and its place in it", () => {
    expect(placesOf(line)[3]).toEqual({ word: 1, phone: 0 });
    expect(placesOf(line)[0]).toEqual({ word: -1, phone: 0 });
  });
  it("move a border of both its phones and of the words, and no further than the neighbours leave room", () => {
    const hand = withEdit([], line, 3, { begins: -0.04 });
    const made = withHand(line, hand).line;
    expect(made.phones[3]!.from).toBeCloseTo(0.26, 9);
    expect(made.phones[2]!.to).toBeCloseTo(0.26, 9);
    expect(made.words[1]!.from).toBeCloseTo(0.26, 9);
    const far = withHand(line, withEdit([], line, 3, { begins: -3 })).line;
    for (const [i, p] of far.phones.entries()) {
      expect(p.to - p.from).toBeGreaterThan(0.0149);
      if (i) expect(p.from).toBeCloseTo(far.phones[i - 1]!.to, 9);
    }
  });
  it("survive a new generation: they find their word again where it went", () => {
    const hand = withEdit(withEdit([], line, 6, { as: "P" }), line, 3, { amount: 0.4 });
    const { line: made, waiting } = withHand(longer, hand);
    expect(waiting).toEqual([]);
    expect(made.phones[7]!.phone).toBe("P");
    expect(made.phones[4]!.amount).toBe(0.4);
  });
  it("wait where their word is gone, and are back when it comes again", () => {
    const hand = withEdit([], line, 6, { as: "P" });
    const without = lineOf(["the", "DH AH"], ["big", "B IH G"]);
    expect(withHand(without, hand).waiting).toEqual(hand);
    expect(withHand(line, hand).line.phones[6]!.phone).toBe("P");
  });
  it("go when they say what was made anyway", () => {
    const once: readonly HandEdit[] = withEdit([], line, 6, { as: "P", amount: 0.5 });
    const back = withEdit(withEdit(once, line, 6, { as: "B" }), line, 6, { amount: 1 });
    expect(back).toEqual([]);
  });
});
