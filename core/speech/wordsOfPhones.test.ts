import type { Phone } from "./phones";
import { wordsOfPhones } from "./wordsOfPhones";

const heard = (text: string): Phone[] =>
  text.split(" ").map((phone, i): Phone => ({ phone, from: i, to: i + 1, stress: 1 }));
const expected = (...words: readonly string[]): { phones: string[] }[] => words.map((w) => ({ phones: w.split(" ") }));

describe("which word a phone belongs to", () => {
  it("is told where all phones are as expected, silence belongs to none", () => {
    const { wordOf } = wordsOfPhones(heard("sil DH AH sil P IH R sil"), expected("DH AH0", "P IH1 R"));
    expect(wordOf).toEqual([-1, 0, 0, -1, 1, 1, 1, -1]);
  });
  it("is told where a phone is left out, put in, or another", () => {
    // "and the": the d is swallowed; "wharf" with a glide put in
    const { wordOf } = wordsOfPhones(heard("AE N DH IY W AO ER F"), expected("AH0 N D", "DH AH0", "W AO1 R F"));
    expect(wordOf).toEqual([0, 0, 1, 1, 2, 2, 2, 2]);
  });
  it("gives vowels the stress of the word's own phones, and leaves consonants alone", () => {
    const { phones } = wordsOfPhones(heard("B AA L ER D"), expected("B AA1 L ER0 D"));
    expect(phones.map((p) => p.stress)).toEqual([1, 1, 1, 0, 1]);
  });
});
