import { loadMember } from "../../demo/cast";
import { alignLine, LINES } from "../../demo/lines/lines";
import { writeTextGrid } from "../formats/textgrid/writeTextGrid";
import type { Character } from "../model/character";
import { transferable, transferShapes } from "../transfer/transferShapes";
import { dominance, visemesAt } from "./dominance";
import { shownAt } from "./curvesOver";
import { MOUTH_ONLY } from "./manner";
import { makeMouthReader, visemeFaces } from "./mouth";
import { isPhone, segmentsOf, type Phone, type SpokenLine } from "./phones";
import { lineOfCsv, lineOfTextGrid } from "./readLine";
import { speak, type Spoken } from "./speak";

const [oda, wick, tarn] = [await loadMember("oda"), await loadMember("wick"), await loadMember("tarn")];
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const demoLine = (id: string): SpokenLine => {
  const { words, phones } = alignLine(LINES.find((l) => l.id === id)!);
  return lineOfTextGrid(
    bytes(
      writeTextGrid([
        { name: "words", intervals: words },
        { name: "phones", intervals: phones },
      ]),
    ),
    `${id}.TextGrid`,
  );
};
/** Phones one after another, each so many milliseconds long. */
const said = (...list: readonly (readonly [string, number])[]): SpokenLine => {
  let t = 0;
  const phones = list.map(([phone, ms]): Phone => {
    const from = t;
    t += ms / 1000;
    return { phone, from, to: t, stress: 1 };
  });
  return { seconds: t, words: [], phones };
};
/** Height of the lips' opening as the written curves leave it, mm, read past what the solving read. */
const opening = (who: Character, spoken: Spoken, under: Record<string, number> = {}): ((t: number) => number) => {
  const reader = makeMouthReader(who)!;
  return (t) => 1000 * reader.gap(shownAt(spoken, under, t));
};

describe("lips that are told to shut", () => {
  const anger = { anger: 0.6 };
  const smile = { AU12_left: 0.6, AU12_right: 0.6 };
  it.each([
    ["oda, plain", oda, {}, 1],
    ["oda, smiling", oda, smile, 1],
    ["oda, with the amount at 1.5", oda, {}, 1.5],
    ["wick, plain", wick, {}, 1],
    ["wick, in anger", wick, anger, 1],
  ] as const)("are measured under 0.5 mm for 40 ms at every p, b, m of a line: %s", (_who, who, under, amount) => {
    const line = demoLine("mind-the-gap");
    const spoken = speak(who, line, { under, manner: { ...MOUTH_ONLY, jaw: amount, lips: amount, tongue: amount } });
    const gap = opening(who, spoken);
    const sealed = line.phones.filter((p) => ["P", "B", "M"].includes(p.phone));
    expect(sealed.length).toBeGreaterThan(3);
    for (const p of sealed) {
      const middle = (p.from + p.to) / 2;
      // every 2.5 ms, between the keys too
      for (let t = middle - 0.02; t <= middle + 0.02; t += 0.0025) expect(gap(t)).toBeLessThan(0.5);
    }
    // half as much again is faster than a mouth, and more than its visemes: that is told
    const told = amount > 1 ? ["speech.overlap", "speech.speed"] : [];
    expect(spoken.scores.filter((s) => !s.met && !told.includes(s.check))).toEqual([]);
  });

  it("shut on a face of other proportions and count, too, once the visemes are carried to it", async () => {
    const carried = transferable(oda).filter((s) => s.name.startsWith("viseme_") || s.name.startsWith("AU12"));
    const { shapes } = await transferShapes(
      oda,
      tarn,
      carried.map((s) => s.name),
      async () => {},
    );
    const who = { ...tarn, shapes: [...tarn.shapes, ...shapes] };
    // a wider mouth moves faster than one can in one place: that is told, and nothing is left open for it
    for (const under of [{}, smile]) {
      const { scores } = speak(who, demoLine("mind-the-gap"), { under });
      expect(scores.filter((s) => !s.met && s.check !== "speech.speed")).toEqual([]);
      expect(scores.filter((s) => s.check === "speech.closure").length).toBeGreaterThan(3);
    }
  });

  it("open again between: a stressed vowel keeps 70 % of what its viseme opens alone", () => {
    const line = said(["sil", 100], ["M", 80], ["AA", 160], ["B", 80], ["IY", 140], ["P", 80], ["sil", 100]);
    const spoken = speak(oda, line);
    const reader = makeMouthReader(oda)!;
    const gap = opening(oda, spoken);
    for (const [phone, viseme] of [
      ["AA", 10],
      ["IY", 12],
    ] as const) {
      const p = line.phones.find((x) => x.phone === phone)!;
      const alone = 1000 * reader.gap(visemeFaces(oda)[viseme - 1]!.weights);
      expect(gap((p.from + p.to) / 2)).toBeGreaterThan(0.7 * alone);
    }
  });

  it("do not linger shut between two closures that leave a short vowel room", () => {
    const gap = opening(oda, speak(oda, said(["sil", 100], ["B", 70], ["AA", 80], ["B", 70], ["sil", 100])));
    expect(gap(0.21)).toBeGreaterThan(2);
    expect(gap(0.135)).toBeLessThan(0.5);
    expect(gap(0.285)).toBeLessThan(0.5);
  });

  it("are told with what is missing where the character has no viseme for a sound", () => {
    const bare = { ...oda, shapes: oda.shapes.filter((s) => s.name !== "viseme_2" && !s.name.startsWith("AU17")) };
    const spoken = speak(bare, said(["AA", 120], ["F", 90], ["AA", 120]));
    expect(spoken.faces.find((f) => f.viseme === 2)!.from).toBe("missing");
    const contact = spoken.scores.find((s) => s.check === "speech.contact")!;
    expect(contact).toMatchObject({ met: false, phone: "F", todo: "There is no viseme for f, v: make one." });
    expect(contact.value).toBeGreaterThan(1.5);
  });

  it("shut on a face whose visemes exist only as mixes of action units, where those can", () => {
    const units = { ...oda, shapes: oda.shapes.filter((s) => !s.name.startsWith("viseme_")), mixes: [] };
    const spoken = speak(units, demoLine("welcome"));
    expect(spoken.faces.every((f) => f.from === "start")).toBe(true);
    expect(spoken.scores.filter((s) => s.check === "speech.closure" && !s.met)).toEqual([]);
  });
});

describe("dominance", () => {
  const vowel = segmentsOf(said(["AA", 200]).phones)[0]!;
  // Cohen & Massaro 1993, eq. 1 with c = 1: on either side the logarithm falls along a straight line
  it("falls off exponentially, alike on both sides of the core", () => {
    const at = (t: number): number => Math.log(dominance(vowel, 0.1 + t));
    expect(at(0.1) - at(0.15)).toBeCloseTo(at(0.15) - at(0.2), 9);
    expect(at(0.12)).toBeCloseTo(at(-0.12), 9);
    expect(at(0)).toBe(at(0.03));
  });
  it("shares out weights whose sum is 1 at most, at any time of any line", () => {
    for (const { id } of LINES) {
      const line = demoLine(id);
      const segments = segmentsOf(line.phones);
      for (let t = 0; t <= line.seconds; t += 0.01)
        expect([...visemesAt(segments, t).values()].reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1 + 1e-9);
    }
  });
  it("knows every phone of the demo's lines, and lets h take the mouth of what follows", () => {
    for (const { words } of LINES)
      for (const [, phones] of words)
        for (const p of phones.split(" ")) expect(isPhone(p.replace(/\d/, ""))).toBe(true);
    expect(segmentsOf(said(["HH", 60], ["UW", 100]).phones).map((s) => s.viseme)).toEqual([14, 14]);
    expect(segmentsOf(said(["AY", 200]).phones).map((s) => s.viseme)).toEqual([10, 12]);
  });
});

describe("lines that come as files", () => {
  // Praat's short text form: the same values in the same order without the words
  const short = [
    'File type = "ooTextFile"',
    'Object class = "TextGrid"',
    "",
    "0",
    "0.5",
    "<exists>",
    "2",
    '"IntervalTier"',
    '"words"',
    "0",
    "0.5",
    "1",
    "0",
    "0.5",
    '"say ""bob"""',
    '"IntervalTier"',
    '"phones"',
    "0",
    "0.5",
    "3",
    "0 0.1",
    '""',
    "0.1 0.2",
    '"B"',
    "0.2 0.5",
    '"AA1"',
  ].join("\n");
  const utf16be = (text: string): Uint8Array =>
    Uint8Array.from([0xfe, 0xff, ...[...text].flatMap((c) => [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255])]);

  it.each([
    ["short", bytes(short)],
    ["short, UTF-16", utf16be(short)],
  ])("are read from a TextGrid, %s", (_form, given) => {
    const line = lineOfTextGrid(given, "x.TextGrid");
    expect(line.words.map((w) => w.text)).toEqual(['say "bob"']);
    expect(line.phones).toEqual([
      { phone: "sil", from: 0, to: 0.1, stress: 0 },
      { phone: "B", from: 0.1, to: 0.2, stress: 1 },
      { phone: "AA", from: 0.2, to: 0.5, stress: 1 },
    ]);
  });
  it("are read from a table, with gaps as silence", () => {
    const line = lineOfCsv(bytes("phone,from,to\nM,0.1,0.2\nAA0,0.3,0.4\n"), "x.csv");
    expect(line.phones.map((p) => `${p.phone} ${p.from}-${p.to} ${p.stress}`)).toEqual([
      "sil 0-0.1 0",
      "M 0.1-0.2 1",
      "sil 0.2-0.3 0",
      "AA 0.3-0.4 0",
    ]);
  });
  it.each([
    ["no TextGrid", () => lineOfTextGrid(bytes("RIFF"), "x.TextGrid"), /This is not a TextGrid/],
    ["one that is cut short", () => lineOfTextGrid(bytes(short.slice(0, -30)), "x.TextGrid"), /ends too early/],
    [
      "phones of another alphabet",
      () => lineOfTextGrid(bytes(short.replace('"B"', '"ß"')), "x.TextGrid"),
      /no phone of ARPAbet/,
    ],
    ["phones that overlap", () => lineOfCsv(bytes("M,0,0.2\nAA,0.1,0.4"), "x.csv"), /overlaps the one before/],
    ["times that are none", () => lineOfCsv(bytes("phone,from,to\nM,a,b"), "x.csv"), /Row 2 has no two times/],
    ["nothing said", () => lineOfCsv(bytes("sil,0,1"), "x.csv"), /Nothing is said/],
  ])("are refused: %s", (_what, read, words) => expect(read).toThrow(words));
});
