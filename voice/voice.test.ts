import wavefile from "wavefile";
import { isPhone } from "../core/speech/phones";
import { atRate } from "../core/speech/sound";
import { alignRecording, DOES_NOT_FIT } from "./alignRecording";
import { lookedUp, waysOf } from "./dictionary";
import { readWav } from "./readWav";
import { sayLine } from "./sayLine";

/** Ten lines with every kind of sound. */
const TEN = [
  "The next boat leaves from pier five.",
  "Welcome aboard the museum ferry.",
  "Please mind the wet planks by the bollard.",
  "High water will be at half past three.",
  "Thick fog over the bay, so we move with both lamps.",
  "Thank you for visiting mother of pearl wharf.",
  "Seven small birds sat on the old brown fence.",
  "My mother baked a very big blueberry pie.",
  "They should not have chosen that shallow water.",
  "Give the vase back before five, please.",
];

describe("a text that is spoken", () => {
  it("has phones of ARPAbet one after another, over the whole of its sound, and words where they are said", async () => {
    const { line, wav, notes } = await sayLine("The next boat leaves from pier 5.", "alto");
    const sound = readWav(wav, "line");
    expect(line.words.map((w) => w.text)).toEqual(["The", "next", "boat", "leaves", "from", "pier", "5"]);
    expect(line.phones.every((p) => isPhone(p.phone))).toBe(true);
    line.phones.forEach((p, i) => expect(p.from).toBe(i ? line.phones[i - 1]!.to : 0));
    expect(line.seconds).toBeCloseTo(sound.samples.length / sound.rate, 2);
    expect(line.phones[line.phones.length - 1]!.to).toBe(line.seconds);
    expect(notes).toEqual([]);
    // stress of the dictionary: L IY1 V Z
    const leaves = line.words[3]!;
    const vowel = line.phones.find((p) => p.phone === "IY" && p.from >= leaves.from && p.to <= leaves.to);
    expect(vowel?.stress).toBe(1);
    // it is heard where it speaks, and not before
    const level = (from: number, to: number): number => {
      const cut = sound.samples.subarray(Math.round(from * sound.rate), Math.round(to * sound.rate));
      return Math.sqrt(cut.reduce((s, v) => s + v * v, 0) / cut.length);
    };
    expect(level(vowel!.from, vowel!.to)).toBeGreaterThan(20 * level(0, 0.5 * line.words[0]!.from));
  });
  it("marks words that are in no dictionary as guesses, until they are told", async () => {
    const guessed = await sayLine("Three blorfs", "bass");
    expect(guessed.line.words.map((w) => w.guess ?? false)).toEqual([false, true]);
    const told = await sayLine("Three blorfs", "bass", 1, { blorfs: "B L UW1 M F S" });
    expect(told.line.words[1]!.guess).toBeUndefined();
    expect(told.line.phones.map((p) => p.phone).join(" ")).toContain("B L UW M F S");
  });
  it("is slower at half the pace", async () => {
    const [plain, slow] = await Promise.all([sayLine("Mind the gap", "tenor"), sayLine("Mind the gap", "tenor", 0.5)]);
    expect(slow.line.seconds / plain.line.seconds).toBeGreaterThan(1.6);
  });
  it.each([
    ["nothing", "  ", {}, /Nothing is said/],
    ["another script", "Привет мир", {}, /None of it can be said in English/],
    ["5 000 words", "ferry ".repeat(5000), {}, /30000 signs|words; a line holds up to/],
    ["a pronunciation that is none", "ferry", { ferry: "F 3 R" }, /"3" is no phone of ARPAbet/],
  ])("is refused: %s", async (_what, text, own, words) => {
    await expect(sayLine(text, "alto", 1, own)).rejects.toThrow(words);
  });
  it("tells what it leaves out", async () => {
    const { notes } = await sayLine("Hello мир", "alto");
    expect(notes.join(" ")).toContain("мир");
  });
});

describe("the dictionary", () => {
  it("knows common words, and those that are said in more than one way", () => {
    // CMU Pronouncing Dictionary 0.7b
    expect(lookedUp("ferry")).toEqual(["F", "EH1", "R", "IY0"]);
    expect(waysOf("read")).toEqual(["R EH1 D", "R IY1 D"]);
    expect(lookedUp("blorfs")).toBeUndefined();
    expect(lookedUp("toString")).toBeUndefined();
    expect(lookedUp("__proto__")).toBeUndefined();
  });
});

describe("recordings", () => {
  const tone = (rate: number): Float64Array =>
    Float64Array.from({ length: rate }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 440 * i) / rate));
  const made = (depth: string, rate: number, channels: number): Uint8Array => {
    const wav = new wavefile.WaveFile();
    const full = depth === "32f" ? 1 : depth === "8" ? 127 : 2 ** (Number(depth) - 1) - 1;
    const samples = tone(rate).map((v) => (depth === "8" ? 128 : 0) + (depth === "32f" ? v : Math.round(full * v)));
    const all = Array.from({ length: channels }, () => samples);
    wav.fromScratch(channels, rate, depth, channels === 1 ? samples : all);
    return wav.toBuffer();
  };
  it.each([
    ["8", 16_000, 1],
    ["16", 8_000, 1],
    ["16", 44_100, 2],
    ["24", 48_000, 1],
    ["24", 96_000, 2],
    ["32f", 48_000, 1],
  ] as const)("of %s bit at %d Hz and %d channels are heard as they are", (depth, rate, channels) => {
    const sound = readWav(made(depth, rate, channels), "tone.wav");
    expect(sound.samples.length / sound.rate).toBeCloseTo(1, 6);
    const wanted = tone(rate);
    const off = sound.samples.reduce((m, v, i) => Math.max(m, Math.abs(v - wanted[i]!)), 0);
    expect(off).toBeLessThan(depth === "8" ? 0.01 : 1e-4);
    // and at the rate that they are measured at
    const low = atRate(sound, 8_000);
    const same = tone(8_000);
    const far = low.subarray(100, 7800).reduce((m, v, i) => Math.max(m, Math.abs(v - same[i + 100]!)), 0);
    expect(far).toBeLessThan(0.02);
  });
  it.each([
    ["no WAV", new TextEncoder().encode("RIFFxxxxAVI nothing"), /not a WAV/],
    ["nothing at all", new Uint8Array(0), /not a WAV/],
    ["one that is cut short", made("16", 16_000, 1).subarray(0, 30), /broken or cut short|no sound/],
  ])("are refused: %s", (_what, bytes, words) => {
    expect(() => readWav(bytes, "a.wav")).toThrow(words);
  });
  it("without a sample are refused", () => {
    const wav = new wavefile.WaveFile();
    wav.fromScratch(1, 16_000, "16", []);
    expect(() => readWav(wav.toBuffer(), "a.wav")).toThrow(/no sound/);
  });
});

describe("a recording with its text", () => {
  it("has its phones found: by another voice to 20 ms in the median, nine in ten to 50 ms, over ten lines", async () => {
    const off: number[] = [];
    for (const text of TEN) {
      const { line, wav } = await sayLine(text, "tenor");
      const found = await alignRecording(wav, "a.wav", text, {}, ["alto", "bass"]);
      expect(found.distance).toBeLessThan(DOES_NOT_FIT);
      expect(found.notes).toEqual([]);
      const starts = (phones: typeof line.phones): number[] =>
        phones.filter((p) => p.phone !== "sil").map((p) => p.from);
      const [truth, guess] = [starts(line.phones), starts(found.line.phones)];
      expect(guess.length).toBe(truth.length);
      off.push(...truth.map((t, i) => Math.abs(guess[i]! - t)));
    }
    off.sort((a, b) => a - b);
    expect(off[off.length >> 1]).toBeLessThan(0.02);
    expect(off[Math.floor(0.9 * off.length)]).toBeLessThan(0.05);
  }, 60_000);
  it("that says something else is told by its distance", async () => {
    for (const [said, text] of [
      [TEN[0]!, TEN[3]!],
      [TEN[4]!, TEN[7]!],
    ] as const) {
      const { wav } = await sayLine(said, "tenor");
      const found = await alignRecording(wav, "a.wav", text, {}, ["alto", "bass"]);
      expect(found.distance).toBeGreaterThan(DOES_NOT_FIT);
      expect(found.notes.join(" ")).toMatch(/does not sound like its text/);
    }
  }, 30_000);
  it("that is much too short for its text is refused", async () => {
    const { wav } = await sayLine("No.", "tenor");
    await expect(alignRecording(wav, "a.wav", TEN.join(" "), {}, ["alto"])).rejects.toThrow(/its text takes about/);
  });
});
