import WebSocket from "ws";
import { clipMatrices } from "../core/evaluate/clipMatrices";
import { writeTextGrid } from "../core/formats/textgrid/writeTextGrid";
import { translationOf } from "../core/math/mat4";
import { frameSchema, helloSchema, senderMessageSchema, type SenderMessage } from "../core/tracking/frame";
import { figureSkeleton } from "../tests/helpers/characters";
import { CLIP_SCORES } from "./clips/clipScores";
import { foreignName, fromT } from "./clips/foreignSkeleton";
import { makeClip } from "./clips/makeClip";
import { loadOda } from "./cast";
import { alignLine, LINES } from "./lines/lines";
import { PHONES, phoneSeconds } from "./lines/phones";
import { takeCsv, TAKES } from "./takes/takes";
import { startStandIn } from "./takes/trackerStandIn";

const oda = await loadOda();

describe("clips", () => {
  const clip = (name: string): ReturnType<typeof makeClip> =>
    makeClip(
      oda,
      CLIP_SCORES.find((s) => s.name === name)!,
    );
  const place = (name: string, joint: string, t: number): readonly number[] =>
    translationOf(
      clipMatrices(oda.skeleton!, clip(name), t),
      16 * oda.skeleton!.joints.findIndex((j) => j.name === joint),
    );
  it("are six, with keys of unit length at even times", () => {
    expect(CLIP_SCORES.length).toBe(6);
    for (const score of CLIP_SCORES)
      for (const track of makeClip(oda, score).tracks) {
        expect(track.times.length).toBe(Math.round(score.seconds * score.fps) + 1);
        if (track.path === "rotation")
          for (let k = 0; k < track.times.length; k++)
            expect(Math.hypot(...track.values.subarray(4 * k, 4 * k + 4))).toBeCloseTo(1, 5);
      }
  });
  it("do what their names say", () => {
    expect(place("reach overhead", "rightHand", 2)[1]).toBeGreaterThan(place("reach overhead", "head", 2)[1]! + 0.2);
    expect(place("point at the tide board", "leftHand", 2)[2]).toBeGreaterThan(0.3);
    const stride = [0, 0.275, 0.55, 0.825].map(
      (t) => place("walk", "leftFoot", t)[2]! - place("walk", "rightFoot", t)[2]!,
    );
    expect(Math.max(...stride)).toBeGreaterThan(0.3);
    expect(Math.min(...stride)).toBeLessThan(-0.3);
  });
  it("are refused by a figure that lacks the joints", () => {
    const stick = { ...oda, skeleton: figureSkeleton() };
    expect(() =>
      makeClip(
        stick,
        CLIP_SCORES.find((s) => s.name === "point at the tide board")!,
      ),
    ).toThrow(/needs the motion leftMiddleProximal\/bend/);
  });
  it("have names of their own on the other studio's skeleton, and its arms at T", () => {
    const names = oda.skeleton!.joints.map((j) => foreignName(j.name));
    expect(new Set(names).size).toBe(names.length);
    expect(foreignName("leftUpperArm")).toBe("ArmUp_Lt");
    expect(fromT("head")).toEqual([0, 0, 0, 1]);
    expect(fromT("leftHand")[2]).toBeCloseTo(-fromT("rightHand")[2], 9);
  });
});

describe("lines", () => {
  it("use the phones of ARPAbet only (39 without stress, as in the CMU Pronouncing Dictionary's set)", () => {
    expect(PHONES.length).toBe(39);
    for (const { words } of LINES)
      for (const [, phones] of words) for (const p of phones.split(" ")) expect(phoneSeconds(p)).toBeGreaterThan(0.03);
    expect(() => phoneSeconds("QQ")).toThrow(/QQ is no ARPAbet phone/);
  });
  it("are rich in lip sounds: every one of p b m f v w th occurs", () => {
    const all = LINES.flatMap((l) => l.words.flatMap(([, phones]) => phones.split(" ")));
    for (const p of ["P", "B", "M", "F", "V", "W", "TH", "DH"])
      expect(all.filter((x) => x === p).length).toBeGreaterThanOrEqual(2);
  });
  it("are aligned without gaps, words over their phones", () => {
    for (const line of LINES) {
      const { words, phones, seconds } = alignLine(line);
      for (const tier of [words, phones]) {
        expect(tier[0]!.from).toBe(0);
        expect(tier.at(-1)!.to).toBe(seconds);
        tier.slice(1).forEach((interval, i) => expect(interval.from).toBe(tier[i]!.to));
      }
      for (const word of words) expect(phones.some((p) => p.from === word.from)).toBe(true);
    }
  });
  it("become TextGrids in the long form; a gap is refused by place", () => {
    const { words, phones } = alignLine(LINES[0]!);
    const text = writeTextGrid([
      { name: "words", intervals: words },
      { name: "phones", intervals: phones },
    ]);
    expect(text.split("\n").slice(0, 2)).toEqual(['File type = "ooTextFile"', 'Object class = "TextGrid"']);
    expect(text).toContain(`intervals: size = ${phones.length}`);
    expect(() =>
      writeTextGrid([
        {
          name: "words",
          intervals: [
            { from: 0, to: 1, text: "a" },
            { from: 1.5, to: 2, text: "b" },
          ],
        },
      ]),
    ).toThrow(/Interval 2 of tier words/);
    expect(writeTextGrid([{ name: "w", intervals: [{ from: 0, to: 1, text: 'say "oh"' }] }])).toContain(
      'text = "say ""oh"""',
    );
  });
});

describe("tracker takes", () => {
  it("are frames of the protocol with noise, dropouts and late packets", () => {
    for (const { hello, frames, delays } of TAKES) {
      helloSchema.parse(hello);
      for (const f of frames)
        expect(frameSchema.parse(f).values?.length ?? hello.channels.length).toBe(hello.channels.length);
      expect(frames.length).toBe(hello.rate * hello.seconds);
      expect(delays.some((d) => d > 0)).toBe(true);
    }
    expect(TAKES.some((t) => t.frames.some((f) => f.values === null))).toBe(true);
    const held = TAKES.find((t) => t.hello.take === "held still")!;
    const brow = held.frames.flatMap((f) => (f.values ? [f.values[held.hello.channels.indexOf("AU4_left")]!] : []));
    const mean = brow.reduce((a, b) => a + b, 0) / brow.length;
    const deviation = Math.sqrt(brow.reduce((s, x) => s + (x - mean) ** 2, 0) / brow.length);
    expect(mean).toBeCloseTo(0.3, 1);
    expect(deviation).toBeGreaterThan(0.01);
  });
  it("are written as CSV, a row a frame", () => {
    const rows = takeCsv(TAKES[1]!).trim().split("\n");
    expect(rows.length).toBe(TAKES[1]!.frames.length + 1);
    expect(new Set(rows.map((r) => r.split(",").length)).size).toBe(1);
  });
});

describe("the tracker stand-in", () => {
  const listen = (port: number, say?: unknown): Promise<{ messages: SenderMessage[]; code: number }> =>
    new Promise((resolve, reject) => {
      const messages: SenderMessage[] = [];
      const socket = new WebSocket(`ws://127.0.0.1:${port}`);
      socket.on("open", () => say !== undefined && socket.send(typeof say === "string" ? say : JSON.stringify(say)));
      socket.on("message", (data) => {
        const message = senderMessageSchema.parse(JSON.parse(String(data)));
        messages.push(message);
        if (message.type === "end") socket.close();
      });
      socket.on("close", (code) => resolve({ messages, code }));
      socket.on("error", reject);
    });
  it("plays a take to its end, every frame once, late ones out of order", async () => {
    const standIn = await startStandIn({ take: "announcement", speed: 40 });
    const { messages } = await listen(standIn.port);
    await standIn.close();
    expect(messages[0]).toMatchObject({ type: "hello", take: "announcement" });
    const frames = messages.flatMap((m) => (m.type === "frame" ? [m.index] : []));
    expect(new Set(frames).size).toBeGreaterThan(0.95 * TAKES[1]!.frames.length);
    expect(messages.at(-1)!.type).toBe("end");
  });
  it("takes up another take, and closes on what is not of the protocol", async () => {
    const standIn = await startStandIn({ speed: 60 });
    const other = await listen(standIn.port, { type: "play", take: "held still" });
    expect(other.messages.some((m) => m.type === "hello" && m.take === "held still")).toBe(true);
    for (const wrong of ["{not json", { type: "play", take: "nobody" }, { type: "frame" }])
      expect((await listen(standIn.port, wrong)).code).toBe(1007);
    await standIn.close();
  });
  it("refuses a take that is not there", () =>
    expect(() => startStandIn({ take: "nobody" })).toThrow(/no take "nobody".*greeting/));
});
