import { countSaid, spellOut } from "./spellOut";

const known = new Set("the mind no ms and nasa co good".split(" "));
const said = (text: string): string =>
  spellOut(text, (w) => known.has(w))
    .tokens.map((t) => t.said.join(" ") + t.pause)
    .join(" ");

describe("a text as the words that are said", () => {
  it.each([
    [
      "Dr. Smith's 3 boats cost $4.50, by 1984;",
      "doctor smith's three boats cost four dollars fifty cents, by nineteen eighty four;",
    ],
    ["Meet at 10:30 or 7:05 or 9:00", "meet at ten thirty or seven oh five or nine o'clock"],
    ["the 21st of Nov. 2026", "the twenty first of november twenty twenty six"],
    [
      "1900 2000 2005 2015 1,984",
      "nineteen hundred two thousand two thousand five twenty fifteen one thousand nine hundred eighty four",
    ],
    ["3.14 is ~5% of -2°", "three point one four is five percent of minus two degrees"],
    ["80 km/h, 1 kg, 12 mm", "eighty kilometers per hour, one kilogram, twelve millimeters"],
    ["NASA and the BBC", "nasa and the b b c"],
    ["No. 5 is no good", "number five is no good"],
    ["mother-of-pearl & co", "mother of pearl and co"],
    ["naïve café — “mind” it's", "naive cafe mind it's"],
    ["007", "zero zero seven"],
    ["£1 and €0.20", "one pound and twenty cents"],
  ])("reads out %s", (text, words) => {
    expect(said(text)).toBe(words);
  });
  it("leaves out other scripts and pictures, and tells them; marks alone are no loss", () => {
    const found = spellOut("Привет 👍 the … !! pier");
    expect(found.leftOut).toEqual(["Привет", "👍"]);
    expect(found.tokens.map((t) => t.said)).toEqual([["the"], ["pier"]]);
  });
  it("counts what is said, not what is written", () => {
    expect(countSaid(spellOut("1984 boats"))).toBe(4);
    expect(countSaid(spellOut(" \n "))).toBe(0);
  });
});
