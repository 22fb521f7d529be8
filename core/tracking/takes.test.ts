import { PLANTED_IN_TAKE, takeCsv, TAKES } from "../../demo/takes/takes";
import { loadMember } from "../../demo/cast";
import { readTakeOn, plainSettings, takePiece } from "../trials/takePiece";
import { exchangedSides } from "./channelMap";
import { faceAt, keysIn, recordFace } from "./recordedFace";
import { readTake } from "./readTake";
import { EASES, HOLDS, PLAIN_STEADY, SteadyFace } from "./steadyFace";
import { steadied } from "./steadyTake";
import { cutTake, framesOf, isLost, lostStretches, takeOfFrames, takeTable, type Take } from "./take";

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const read = (text: string, file = "take.csv"): ReturnType<typeof readTake> => readTake(bytes(text), file);
const demoTake = (name: string): Take => read(takeCsv(TAKES.find((t) => t.hello.take === name)!), `${name}.csv`).take;

describe("takes of a table", () => {
  it("are read with their rate, channels, head, gaze and the frames in which the face was lost", () => {
    const take = demoTake("held still");
    expect(take).toMatchObject({ name: "held still", rate: 30 });
    expect(take.channels).toHaveLength(15);
    expect(framesOf(take)).toBe(180);
    expect(lostStretches(take).map(([a, b]) => [Number(a.toFixed(2)), Number(b.toFixed(2))])).toEqual([
      [1, 1.4],
      [4.2, 4.3],
    ]);
    expect(Array.from(take.head!.subarray(0, 3))).toEqual([2, -14, 1]);
    expect(Array.from(take.gaze!.subarray(0, 2))).toEqual([14, 0]);
  });
  it("come back from the table that they are kept as", () => {
    const take = demoTake("pier rounds");
    const again = read(takeTable(take)).take;
    expect(again.channels).toEqual(take.channels);
    expect(again.rate).toBe(60);
    expect(lostStretches(again)).toEqual(lostStretches(take));
    for (let i = 0; i < take.values.length; i++)
      if (!Number.isNaN(take.values[i]!)) expect(Math.abs(again.values[i]! - take.values[i]!)).toBeLessThan(1e-4);
  });
  it.each(["TimeCode(s)", "time [sec]", "elapsed time in seconds", "t", "frame_time", "time stamp"])(
    "find their times under %s",
    (name) => expect(Array.from(read(`${name},smile\n0,0\n0.5,1\n`).take.times)).toEqual([0, 0.5]),
  );
  it("may have clock times, semicolons with decimal commas, percent, other angles, and rows out of order", () => {
    const clock = read("Timecode,jaw drop\n10:00:00:00,0\n10:00:00:12,0.5\n10:00:01:00,1\n");
    expect(Array.from(clock.take.times).map((t) => Number(t.toFixed(3)))).toEqual([0, 0.5, 1]);
    const comma = read("seconds;smile\n0,0;0,25\n0,5;0,75\n1,0;0,5\n");
    expect(Array.from(comma.take.values)).toEqual([0.25, 0.75, 0.5]);
    const percent = read("seconds,smile\n0,0\n0.1,80\n0.2,40\n");
    expect(percent.take.values[1]).toBeCloseTo(0.8);
    expect(percent.notes).toEqual(["Its values are percent and were divided by 100."]);
    const five = read("seconds,AU12_r\n0,0\n0.1,4\n0.2,2\n");
    expect(five.take.values[1]).toBeCloseTo(0.8);
    const turned = read("seconds,smile,head yaw (rad),head pitch (rad)\n0,0,0.5,0\n0.1,0,0.5,0.1\n");
    expect(turned.take.head![1]).toBeCloseTo((0.5 * 180) / Math.PI, 4);
    const mixed = read("seconds,smile\n0,0\n0.2,1\n0.1,0.5\n0.1,0.9\n");
    expect(Array.from(mixed.take.values)).toEqual([0, 0.5, 1]);
    expect(mixed.notes).toHaveLength(2);
  });
  it("hold the value before in an empty cell, and are lost where a whole row is empty", () => {
    const { take, notes } = read("seconds,a smile,jaw drop\n0,0.2,0.1\n0.1,,0.3\n0.2,,\n0.3,0.4,0.5\n");
    expect(take.values[2]).toBeCloseTo(0.2);
    expect([0, 1, 2, 3].map((f) => isLost(take, f))).toEqual([false, false, true, false]);
    expect(notes).toEqual(["1 empty cell keeps the value before."]);
  });
  it.each([
    ["nothing", "", /no rows of numbers/],
    ["numbers without names", "0,1\n1,2\n", /first row holds numbers/],
    ["no channel", "seconds,remark\n0,hello\n1,you\n", /None of its columns/],
    ["a row without a time", "seconds,smile\n0,1\nsoon,1\n", /Row 3 has no time: "soon"/],
    ["one frame", "seconds,smile\n0,1\n", /fewer than two frames/],
    ["a face that is never there", "seconds,smile\n0,\n1,\n", /lost in every frame/],
    [
      "601 channels",
      `seconds,${Array.from({ length: 601 }, (_, i) => `c${i}x`).join(",")}\n0${",0".repeat(601)}\n1${",0".repeat(601)}\n`,
      /601 channels; up to 500/,
    ],
  ])("are refused in words: %s", (_what, text, why) => {
    expect(() => read(text)).toThrow(why);
  });
});

describe("takes of JSON", () => {
  const frame = (i: number, values: unknown): object => ({ type: "frame", index: i, time: i / 10, values });
  it("are what the protocol sends, a list of it, or objects by name", () => {
    const hello = { type: "hello", version: 1, source: "s", take: "t", rate: 10, seconds: 1, channels: ["smile"] };
    const frames = [frame(0, [0]), frame(1, null), frame(2, [0.5])];
    for (const json of [{ hello, frames }, [hello, ...frames, { type: "end", frames: 3 }]]) {
      const { take } = read(JSON.stringify(json), "a.json");
      expect(take).toMatchObject({ name: "t", rate: 10, channels: ["smile"], head: null });
      expect(isLost(take, 1)).toBe(true);
    }
    const named = [
      { time: 0, smile: 0.1 },
      { time: 0.5, smile: 0.2, "jaw drop": 0.3 },
    ];
    expect(read(JSON.stringify(named), "a.json").take.channels).toEqual(["smile", "jaw drop"]);
  });
  it.each([
    ["no JSON", "{", /not JSON/],
    ["no frames", "{}", /holds no frames/],
    [
      "too few values",
      JSON.stringify({ channels: ["a", "b"], frames: [frame(0, [1]), frame(1, [1, 1])] }),
      /1 values for 2/,
    ],
    ["a word for a value", JSON.stringify({ channels: ["a"], frames: [frame(0, ["x"])] }), /Frame 0 does not fit/],
  ])("are refused in words: %s", (_what, text, why) => {
    expect(() => read(text, "a.json")).toThrow(why);
  });
});

describe("a lost face", () => {
  it("holds, then eases to its neutral, and comes back without a jump", () => {
    const face = new SteadyFace(1, PLAIN_STEADY, [0.1]);
    const push = (time: number, value: number | null): number => {
      face.push({ time, values: value === null ? null : [value], head: [0, 20, 0], gaze: null });
      return face.values[0]!;
    };
    let t = 0;
    for (; t < 1; t += 1 / 60) push(t, 0.8);
    const lost = t;
    for (; t < lost + HOLDS - 0.02; t += 1 / 60) expect(push(t, null)).toBeCloseTo(0.8, 5);
    expect(face.lostSince).toBeCloseTo(lost, 5);
    let before = 0.8;
    for (; t < lost + HOLDS + EASES + 0.05; t += 1 / 60) {
      const now = push(t, null);
      expect(now).toBeLessThanOrEqual(before + 1e-9);
      before = now;
    }
    expect(before).toBeCloseTo(0.1, 5);
    expect(face.head[1]).toBeCloseTo(0, 5);
    const back = push(t, 0.8);
    expect(back).toBeLessThan(0.8);
    for (let k = 0; k < 30; k++) push((t += 1 / 60), 0.8);
    expect(face.values[0]).toBeCloseTo(0.8, 1);
  });
  it("is filled in where no frames came, so that a hole is played as one", () => {
    const take = demoTake("greeting");
    const holed = takeOfFrames(
      { type: "hello", version: 1, source: "s", take: "t", rate: 60, seconds: 0, channels: [...take.channels] },
      TAKES[0]!.frames.filter((f) => f.time < 1 || f.time > 2),
    )!;
    expect(lostStretches(holed)).toHaveLength(1);
    const steady = steadied(holed, PLAIN_STEADY);
    expect(framesOf(steady)).toBeGreaterThan(framesOf(holed) + 50);
    expect(steady.values.some(Number.isNaN)).toBe(false);
  });
});

describe("a recorded face", () => {
  it("plays within its tolerance at every frame, with a fraction of the keys", () => {
    for (const name of ["greeting", "announcement", "held still", "pier rounds"]) {
      const raw = demoTake(name);
      const steady = steadied(raw, PLAIN_STEADY);
      for (const tolerance of [0.002, 0.01]) {
        const face = recordFace(steady, raw, tolerance);
        let worst = 0;
        for (let f = 0; f < framesOf(steady); f++) {
          const { values } = faceAt(face, steady.times[f]!);
          values.forEach((v, c) => (worst = Math.max(worst, Math.abs(v - steady.values[f * values.length + c]!))));
        }
        expect(worst).toBeLessThanOrEqual(tolerance);
        // noise that is left asks for keys, too
        expect(keysIn(face)).toBeLessThan((tolerance < 0.005 ? 0.8 : 0.25) * framesOf(raw) * raw.channels.length);
      }
    }
  });
  it("is the same however it came: frames in their order, late, or a cut of a longer one", () => {
    const { hello, frames } = TAKES[1]!;
    const shuffled = [...frames].sort((a, b) => ((a.index * 7) % 11) - ((b.index * 7) % 11));
    const [a, b] = [takeOfFrames(hello, frames)!, takeOfFrames(hello, [...shuffled, frames[5]!])!];
    expect(takeTable(b)).toBe(takeTable(a));
    expect(framesOf(cutTake(a, 1, 2))).toBe(61);
  });
});

describe("what is wrong with a take", () => {
  it("is found at its channel, and nothing else above a note", async () => {
    const oda = await loadMember("oda");
    const take = demoTake("pier rounds");
    const settings = plainSettings(take, oda);
    const { findings, noise, steadyNoise, lagMs } = readTakeOn(take, settings, oda);
    for (const { check, channel } of PLANTED_IN_TAKE) {
      const found = findings.find((f) => f.check === check && (channel === null || f.channel === channel));
      expect([check, found?.channel ?? null]).toEqual([check, channel]);
      expect(found!.todo).not.toBe("");
    }
    expect(findings.filter((f) => f.severity !== "note")).toHaveLength(4);
    expect(noise).toBeGreaterThan(2 * steadyNoise);
    expect(lagMs).toBeGreaterThan(0);
    // the map exchanged answers the sender that is mirrored
    const exchanged = readTakeOn(take, { ...settings, map: exchangedSides(settings.map, oda) }, oda).findings;
    expect(exchanged.some((f) => f.check === "tracking.sides")).toBe(false);
    // steadied more, it holds; later, it is late
    const firm = readTakeOn(take, { ...settings, steady: { steady: 1, quick: 0 } }, oda);
    expect(firm.steadyNoise).toBeLessThan(steadyNoise);
    expect(firm.findings.some((f) => f.check === "tracking.lag")).toBe(true);
    expect(firm.findings.some((f) => f.check === "tracking.jitter")).toBe(false);
  });
  it("is gone from a take without faults, and told of sides that a map has exchanged", async () => {
    const oda = await loadMember("oda");
    const take = demoTake("greeting");
    const settings = plainSettings(take, oda);
    expect(readTakeOn(take, settings, oda).findings.filter((f) => f.severity !== "note")).toEqual([]);
    const crossed = exchangedSides(settings.map, oda);
    const told = readTakeOn(take, { ...settings, map: crossed }, oda).findings;
    expect(told.find((f) => f.check === "tracking.sides")).toMatchObject({ channel: "AU1_left", shape: "AU1_right" });
    expect(exchangedSides(crossed, oda).channels.map((r) => r.shapes)).toEqual(
      settings.map.channels.map((r) => r.shapes),
    );
    const piece = takePiece(take, settings, { start: 2, id: "x" });
    expect(piece).toMatchObject({ kind: "take", start: 2 });
    expect(piece.to).toBeCloseTo(5, 3);
  });
});
