import { loadMember } from "../../demo/cast";
import { alignLine, LINES } from "../../demo/lines/lines";
import { evaluate } from "../evaluate/evaluate";
import type { Character } from "../model/character";
import { lineOfTextGrid } from "../speech/readLine";
import { PLAIN_MANNER } from "../speech/manner";
import { makeMouthReader } from "../speech/mouth";
import { writeTextGrid } from "../formats/textgrid/writeTextGrid";
import { bakeTrial } from "./bakeTrial";
import { linePiece, remade } from "./linePiece";
import { momentAt } from "./momentAt";
import { momentsOf } from "./moments";
import { speakTrial } from "./speakTrial";
import { keyOfLine, onRuler, shownLine, spokenOf } from "./spokenLines";
import { emptyTrial, pieceSchema, trialSchema, type LinePiece, type Trial } from "./trial";
import { withAdded, withoutAdded } from "./visemeKeys";
import { watchSpeech } from "./watchSpeech";

const oda = await loadMember("oda");
const { words, phones } = alignLine(LINES.find((l) => l.id === "mind-the-gap")!);
const line = lineOfTextGrid(
  new TextEncoder().encode(
    writeTextGrid([
      { name: "words", intervals: words },
      { name: "phones", intervals: phones },
    ]),
  ),
  "mind-the-gap.TextGrid",
);
const SMILES = ["AU12_left", "AU12_right"];
/** The line on the speech lane, over keys that smile all the while. */
const trialWith = (change: Partial<LinePiece> = {}, smile = 0): Trial => {
  const trial = emptyTrial("spoken");
  const piece = { ...linePiece(line, { said: null, sound: null }, 1, "line"), ...change };
  const curve = { times: [0, 10], values: [smile, smile] };
  const keys = { joints: {}, shapes: Object.fromEntries(SMILES.map((s) => [s, curve])) };
  return trialSchema.parse({
    ...trial,
    lanes: {
      ...trial.lanes,
      face: smile ? [pieceSchema.parse({ kind: "keys", id: "smile", start: 0, to: 10, keys })] : [],
      speech: [piece],
    },
  });
};
const lineIn = (trial: Trial): LinePiece => trial.lanes.speech[0] as LinePiece;
const weightsIn = (who: Character, trial: Trial, seconds: number): Record<string, number> => {
  const { weights } = evaluate(who, momentAt(who, trial, seconds, false));
  return Object.fromEntries(who.shapes.flatMap((s, i) => (weights[i]! > 1e-4 ? [[s.name, weights[i]!]] : [])));
};

describe("a line in a trial", () => {
  it("plays nothing before it is worked out, and from then on what it was before while it is worked out anew", () => {
    const trial = trialWith();
    const fresh: Character = { ...oda };
    expect(weightsIn(fresh, trial, 2)).toEqual({});
    speakTrial(fresh, trial);
    const spoken = weightsIn(fresh, trial, 2);
    expect(Object.keys(spoken).some((n) => n.startsWith("viseme_"))).toBe(true);
    const changed = trialWith({ manner: { ...PLAIN_MANNER, jaw: 0.5 } });
    expect(spokenOf(fresh, changed, lineIn(changed))).toBeNull();
    expect(shownLine(fresh, changed, lineIn(changed))).not.toBeNull();
    expect(weightsIn(fresh, changed, 2)).toEqual(spoken);
  });
  it("shuts the lips at every p, b, m over a smile of 0.6, and the smile is back between", () => {
    const trial = trialWith({}, 0.6);
    speakTrial(oda, trial);
    const reader = makeMouthReader(oda)!;
    const piece = lineIn(trial);
    for (const p of line.phones.filter((x) => ["P", "B", "M"].includes(x.phone)))
      expect(1000 * reader.gap(weightsIn(oda, trial, onRuler(piece, (p.from + p.to) / 2)))).toBeLessThan(0.5);
    expect(weightsIn(oda, trial, 0.5)["AU12_left"]).toBeCloseTo(0.6, 6);
    const inVowels = line.phones
      .filter((p) => p.phone === "IY" || p.phone === "EH")
      .map((p) => weightsIn(oda, trial, onRuler(piece, (p.from + p.to) / 2))["AU12_left"] ?? 0);
    expect(Math.max(...inVowels)).toBeGreaterThan(0.5);
    expect(watchSpeech(oda, trial).flatMap((f) => f.over.filter((o) => o.check === "speech.closure"))).toEqual([]);
  });
  it("is the same wherever it stands alone, and another over something else", () => {
    const [a, b, over] = [trialWith(), trialWith({ start: 3 }), trialWith({}, 0.6)];
    expect(keyOfLine(a, lineIn(a))).toBe(keyOfLine(b, lineIn(b)));
    expect(keyOfLine(over, lineIn(over))).not.toBe(keyOfLine(a, lineIn(a)));
  });
  it("blinks, and turns the head on top of what the body does; without, it is the mouth alone", () => {
    const [full, bare] = [
      trialWith({ manner: { ...PLAIN_MANNER, head: 1 } }),
      trialWith({ manner: { ...PLAIN_MANNER, blinks: false, brows: 0, head: 0 } }),
    ];
    speakTrial(oda, full);
    speakTrial(oda, bare);
    const lids = (t: Trial): number =>
      Math.max(...Array.from({ length: 120 }, (_, f) => weightsIn(oda, t, 1 + f / 40)["AU43_left"] ?? 0));
    expect(lids(full)).toBeGreaterThan(0.9);
    expect(lids(bare)).toBe(0);
    const turned = (t: Trial): number =>
      Math.max(
        ...Array.from({ length: 60 }, (_, f) => {
          const { turns } = evaluate(oda, momentAt(oda, t, 1 + f / 20, false));
          return turns.reduce((m, v, i) => (i % 4 === 3 ? m : Math.max(m, Math.abs(v))), 0);
        }),
      );
    expect(turned(full)).toBeGreaterThan(0.01);
    expect(turned(bare)).toBe(0);
  });
  it("that misses a closure is a moment of the trial, an error, with what is missing", () => {
    const open = oda.shapes.find((s) => s.name === "viseme_11")!;
    const without: Character = {
      ...oda,
      shapes: oda.shapes.map((s) => (s.name === "viseme_1" ? { ...s, deltas: open.deltas } : s)),
    };
    const trial = trialWith();
    const moments = momentsOf(watchSpeech(without, trial), trial.fps);
    expect(moments[0]).toMatchObject({ check: "speech.closure", severity: "error", unit: "ms", limit: 40 });
    expect(moments[0]!.message).toMatch(/lips are shut for \d+ ms at [PBM] at/);
    expect(moments[0]!.times).toBeGreaterThan(1);
  });
  it("becomes a clip with its weights, and the turns of its head", () => {
    const clip = bakeTrial(oda, trialWith({ manner: { ...PLAIN_MANNER, head: 1 } }), "said")!;
    expect(clip.weights!.some((w) => w.shape.startsWith("viseme_"))).toBe(true);
    expect(clip.tracks.length).toBeGreaterThan(0);
  });
  it("does more or less of a viseme where that was added by hand, and the lips still shut", () => {
    const at = line.phones.find((p) => p.phone === "AY")!;
    const middle = (at.from + at.to) / 2;
    const plain = trialWith();
    const more = trialWith({ curves: { 13: withAdded(undefined, middle, 0.4) } });
    speakTrial(oda, plain);
    speakTrial(oda, more);
    const of = (t: Trial, seconds: number): number => weightsIn(oda, t, onRuler(lineIn(t), seconds))["viseme_13"] ?? 0;
    expect(of(more, middle) - of(plain, middle)).toBeGreaterThan(0.1);
    expect(of(more, middle + 0.4)).toBeCloseTo(of(plain, middle + 0.4), 3);
    const closures = spokenOf(oda, more, lineIn(more))!.scores.filter((s) => s.check === "speech.closure");
    expect(closures.every((s) => s.met)).toBe(true);
    // taken away, nothing is left of it
    const curve = withAdded(undefined, middle, 0.4);
    expect(curve.times.length).toBe(3);
    expect(withoutAdded(curve, middle)).toBeNull();
    // spoken half as quick, it stands at the same sound
    const slow = {
      ...line,
      seconds: 2 * line.seconds,
      words: line.words.map((w) => ({ ...w, from: 2 * w.from, to: 2 * w.to })),
    };
    const next = remade(lineIn(more), slow, { said: null, sound: null });
    expect(next.curves[13]!.times[1]).toBeCloseTo(2 * middle, 6);
  });
  it("spoken anew keeps its changes by hand and its place, and takes the new words for its name", () => {
    const piece = lineIn(trialWith({ hand: [{ word: 1, text: "mind", phone: 0, amount: 0.5 }] }));
    const shorter = { ...line, words: line.words.slice(0, 2) };
    const next = remade(piece, shorter, { said: { text: "Please mind", voice: "alto", pace: 1 }, sound: null });
    expect(next).toMatchObject({ start: 1, hand: piece.hand, name: "Please mind", to: shorter.seconds });
  });
});
