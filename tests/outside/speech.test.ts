import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import Meyda from "meyda";
import { dominance } from "../../core/speech/dominance";
import { lineOfTextGrid } from "../../core/speech/readLine";
import { segmentsOf, type SpokenLine } from "../../core/speech/phones";
import { textGridOfLine } from "../../core/speech/writeLine";
import { randomFrom } from "../../core/math/random";
import { lookedUp } from "../../voice/dictionary";
import { cepstrum } from "../../voice/features";
import { sayLine } from "../../voice/sayLine";

const folder = mkdtempSync(path.join(tmpdir(), "yxomorph-praat-"));
/** Runs a Praat script; what it writes to its info window. */
const praat = (script: string, ...given: readonly string[]): string => {
  const file = path.join(folder, "script.praat");
  writeFileSync(file, script);
  return execFileSync("praat", ["--run", file, ...given], { encoding: "utf8" });
};
const READ = `form Read
  sentence file
endform
Read from file: file$
tiers = Get number of tiers
end = Get total duration
writeInfoLine: tiers, " ", fixed$ (end, 4)
for tier to tiers
  name$ = Get tier name: tier
  count = Get number of intervals: tier
  appendInfoLine: name$, " ", count
  for i to count
    begin = Get start time of interval: tier, i
    label$ = Get label of interval: tier, i
    appendInfoLine: fixed$ (begin, 4), " ", label$
  endfor
endfor
`;

describe("lines that are handed over, read by Praat (Debian praat)", () => {
  it("have the same tiers, times and labels there", async () => {
    const { line } = await sayLine('The next "boat" leaves from pier five.', "alto");
    const file = path.join(folder, "line.TextGrid");
    writeFileSync(file, textGridOfLine(line));
    const lines = praat(READ, file).trim().split("\n");
    expect(lines[0]).toBe(`2 ${line.seconds.toFixed(4)}`);
    const phones = lines.slice(lines.findIndex((l) => l.startsWith("phones ")) + 1);
    expect(phones.length).toBe(line.phones.length);
    phones.forEach((row, i) => {
      const p = line.phones[i]!;
      const [from, label = ""] = row.split(" ");
      expect(Number(from)).toBeCloseTo(p.from, 3);
      expect(label.replace(/\d$/, "")).toBe(p.phone === "sil" ? "" : p.phone);
    });
    expect(lines.some((l) => l.endsWith(" boat"))).toBe(true);
  });
  it.each([
    ["short form", "Save as short text file"],
    ["long form", "Save as text file"],
  ])("come back from Praat as they went: %s", async (_form, command) => {
    const { line } = await sayLine("Mind the wet planks.", "bass");
    const [from, to] = [path.join(folder, "in.TextGrid"), path.join(folder, "out.TextGrid")];
    writeFileSync(from, textGridOfLine(line));
    praat(`form Convert\n  sentence from\n  sentence to\nendform\nRead from file: from$\n${command}: to$\n`, from, to);
    const back = lineOfTextGrid(new Uint8Array(readFileSync(to)), "out.TextGrid");
    const plain = (l: SpokenLine): unknown[] => l.phones.map((p) => [p.phone, p.from.toFixed(3), p.to.toFixed(3)]);
    expect(plain(back)).toEqual(plain(line));
    expect(back.words.map((w) => w.text)).toEqual(line.words.map((w) => w.text));
  });
});

describe("cepstra, against Meyda 5.6.3", () => {
  it("go up and down with its own over noise, tones and speech-like mixtures", () => {
    const settings = Meyda as unknown as Record<string, unknown>;
    settings["bufferSize"] = 512;
    settings["sampleRate"] = 16_000;
    settings["melBands"] = 26;
    settings["numberOfMFCCCoefficients"] = 13;
    settings["windowingFunction"] = "hamming";
    const random = randomFrom(5);
    const frames = Array.from({ length: 40 }, (_, k) =>
      Float32Array.from({ length: 512 }, (_, i) => {
        const tones = [120, 700 + 40 * k, 1800 - 20 * k].reduce(
          (s, hz) => s + Math.sin((2 * Math.PI * hz * i) / 16_000),
          0,
        );
        return 3000 * (tones + (k / 20) * (2 * random() - 1));
      }),
    );
    const theirs = frames.map((f) => Meyda.extract("mfcc", f) as unknown as number[]);
    const ours = frames.map((f) => cepstrum(f));
    // the two scale their cosine transforms and their bands differently: each coefficient is compared over the frames
    for (let c = 1; c < 8; c++) {
      const [x, y] = [ours.map((o) => o[c]!), theirs.map((t) => t[c]!)];
      const mean = (l: number[]): number => l.reduce((a, b) => a + b, 0) / l.length;
      const [mx, my] = [mean(x), mean(y)];
      const dot = x.reduce((s, v, i) => s + (v - mx) * (y[i]! - my), 0);
      const norm = Math.sqrt(x.reduce((s, v) => s + (v - mx) ** 2, 0) * y.reduce((s, v) => s + (v - my) ** 2, 0));
      expect(dot / norm).toBeGreaterThan(0.95);
    }
  });
});

describe("published forms", () => {
  it("dominance follows D = alpha e^(-theta |tau|) (Cohen & Massaro 1993, eq. 1, c = 1)", () => {
    const [segment] = segmentsOf([{ phone: "S", from: 0, to: 0.1, stress: 0 }]);
    // outside of its core the logarithm falls in a straight line, alike on both sides
    const logs = [0.12, 0.16, 0.2, 0.24].map((t) => Math.log(dominance(segment!, t)));
    const slopes = logs.slice(1).map((l, i) => (l - logs[i]!) / 0.04);
    for (const s of slopes) expect(s).toBeCloseTo(slopes[0]!, 6);
    expect(slopes[0]).toBeLessThan(0);
    expect(dominance(segment!, 0.05 + 0.13)).toBeCloseTo(dominance(segment!, 0.05 - 0.13), 12);
  });
  it("words are said as the CMU Pronouncing Dictionary 0.7b has them", async () => {
    // entries of the dictionary, from memory
    const entries = {
      museum: "M Y UW0 Z IY1 AH0 M",
      bollard: "B AA1 L ER0 D",
      voyage: "V OY1 AH0 JH",
      thick: "TH IH1 K",
      wharf: "W AO1 R F",
    };
    for (const [word, phones] of Object.entries(entries)) expect(lookedUp(word)?.join(" ")).toBe(phones);
    const { line } = await sayLine("Thick fog on the wharf", "tenor");
    expect(line.phones.map((p) => p.phone).join(" ")).toMatch(/TH IH K F .* G .*W AO R F/);
  });
});
