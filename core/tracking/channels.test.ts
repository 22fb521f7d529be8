import { loadMember } from "../../demo/cast";
import type { Character } from "../model/character";
import { readFaceName } from "../names/faceWords";
import { EXTREMES, withExtreme, withNeutral } from "./captured";
import { channelMapSchema, linkTo, mapOn, proposeMap, uncovered } from "./channelMap";
import { makeFaceTurner } from "./faceTurns";
import { linkWeight, makeFaceMapper } from "./faceWeights";
import { readTake } from "./readTake";
import { StreamReader } from "./streamReader";

const oda = await loadMember("oda");
const named = (...names: readonly string[]): Character => ({
  ...oda,
  drivers: [],
  shapeDrivers: [],
  mixes: [],
  shapes: names.map((name) => ({ ...oda.shapes[0]!, name })),
});
const unitsOf = (name: string): string =>
  readFaceName(name)
    .movements.map((m) => `${m.unit}${m.side ? m.side[0] : ""}`)
    .join(" ");

describe("names of channels", () => {
  it.each([
    ["the left brow, its inner part raised", "1l"],
    ["raise outer brow R", "2r"],
    ["brow lowerer (left)", "4l"],
    ["lowered brows", "4"],
    ["L-upper-lid-raiser", "5l"],
    ["cheek raiser, right", "6r"],
    ["Lid.Tightener.L", "7l"],
    ["wrinkled nose", "9"],
    ["upperlip_raise_l", "10l"],
    ["smile (l)", "12l"],
    ["corner of the lips pulled (right)", "12r"],
    ["lip corners, depressed", "15"],
    ["chin raise", "17"],
    ["kiss", "18"],
    ["lips pressed", "24"],
    ["lips apart", "25"],
    ["dropped jaw", "26"],
    ["jaw to the left", "30l"],
    ["blink R", "43r"],
    ["eyesclosed", "43"],
    ["looking: gaze up", "63"],
    ["left eye, look outward", "61l"],
    ["right eye, look outward", "62r"],
    ["au 12 left", "12l"],
    ["FACS unit 4 (R)", "4r"],
    ["temperature", ""],
  ])("mean what they say: %s", (name, units) => {
    expect(unitsOf(name)).toBe(units);
  });
});

describe("channels of a tracker on a character", () => {
  it("move its shapes by words, surest first; one moves many where it has no side, and halves share a shape", () => {
    const map = proposeMap(["both brows, inner up", "smile L", "smile R", "brows raised", "odd thing"], oda);
    const rows = Object.fromEntries(map.channels.map((r) => [r.channel, r]));
    expect(rows["both brows, inner up"]!.shapes.map((l) => l.shape)).toEqual(["AU1_left", "AU1_right"]);
    expect(rows["smile L"]).toMatchObject({ found: "sure", shapes: [{ shape: "AU12_left", gain: 1 }] });
    // what a surer channel moves is left to it
    expect(rows["brows raised"]).toMatchObject({
      found: "likely",
      shapes: [{ shape: "AU2_left" }, { shape: "AU2_right" }],
    });
    expect(rows["odd thing"]).toMatchObject({ found: "open", shapes: [] });
    const whole = proposeMap(["smile L", "smile R"], named("grin"));
    expect(whole.channels.map((r) => r.shapes)).toEqual([[linkTo("grin", 0.5)], [linkTo("grin", 0.5)]]);
    expect(proposeMap(["Brow raise IN l"], named("l_in_raise_brow")).channels[0]!.shapes[0]!.shape).toBe(
      "l_in_raise_brow",
    );
  });
  it("have no side where a letter behind all of them is none", () => {
    const map = proposeMap(["AU01_r", "AU04_r", "AU12_r"], oda);
    expect(map.channels[2]!.shapes.map((l) => l.shape)).toEqual(["AU12_left", "AU12_right"]);
  });
  it("go to shapes of other names on another character, with the gains and neutrals that they had", () => {
    const map = proposeMap(["smile L", "dropped jaw"], oda);
    const set = {
      ...map,
      channels: map.channels.map((r) => ({
        ...r,
        neutral: 0.1,
        shapes: r.shapes.map((l) => ({ ...l, gain: 1.5, high: 0.8 })),
      })),
    };
    const other = named("grin.L", "grin.R", "jaw_open");
    const there = mapOn(other, set, ["smile L", "dropped jaw", "blink L"]);
    expect(there.channels[0]).toMatchObject({ neutral: 0.1, shapes: [{ shape: "grin.L", gain: 1.5, high: 0.8 }] });
    expect(there.channels[1]!.shapes[0]!.shape).toBe("jaw_open");
    expect(uncovered(other, there)).toEqual({ unmapped: ["blink L"], silent: ["grin.R"] });
    expect(mapOn(oda, set, ["smile L", "dropped jaw"]).channels).toEqual(set.channels);
  });
  it("bend, limit and add up: what they give is held within limits, and a shape within 1", () => {
    const link = channelMapSchema.parse({
      channels: [{ channel: "a", shapes: [{ shape: "s", gain: 2, offset: 0.1, curve: 2, high: 0.7 }] }],
    }).channels[0]!.shapes[0]!;
    expect(linkWeight(link, 0.5)).toBeCloseTo(0.1 + 2 * 0.25);
    expect([linkWeight(link, 1), linkWeight(link, -1)]).toEqual([0.7, 0]);
    const map = channelMapSchema.parse({
      channels: [
        { channel: "a", neutral: 0.2, shapes: [linkTo("AU26")] },
        { channel: "b", shapes: [linkTo("AU26"), linkTo("AU18", 0.5), linkTo("not here")] },
      ],
    });
    const mapper = makeFaceMapper(oda, map, ["b", "a"]);
    const weights = Array.from(mapper.weights([0.8, 0.7]));
    expect(Object.fromEntries(mapper.shapes.map((s, i) => [s, weights[i]]))).toEqual({ AU26: 1, AU18: 0.4 });
  });
});

describe("neutral and extremes", () => {
  const take = (rows: string): ReturnType<typeof readTake>["take"] =>
    readTake(new TextEncoder().encode(`seconds,smile L,smile R,brow down,head_yaw\n${rows}`), "t.csv").take;
  it("take off what a face shows at rest, and bring a whole movement to a whole shape", () => {
    const map = withNeutral(
      proposeMap(["smile L", "smile R", "brow down"], oda),
      take("0,0.1,0.2,0.3,4\n0.1,0.12,0.2,0.3,6\n0.2,0.1,0.2,0.3,5\n"),
    );
    expect(map.channels.map((r) => r.neutral)).toEqual([0.1, 0.2, 0.3]);
    expect(map.turns.headNeutral[1]).toBe(5);
    const smile = EXTREMES.find((e) => e.key === "smile")!;
    const {
      map: set,
      still,
      set: which,
    } = withExtreme(map, take("0,0.2,0.2,0.3,0\n0.1,0.6,0.22,0.9,0\n0.2,0.5,0.2,0.3,0\n"), smile);
    expect(set.channels[0]!.shapes[0]!.gain).toBeCloseTo(2);
    expect([which, still]).toEqual([["smile L"], ["smile R"]]);
    expect(set.channels[2]).toEqual(map.channels[2]);
  });
});

describe("head and eyes", () => {
  it("turn by what was read, neck and head sharing it, each within its range", () => {
    const map = proposeMap(["smile"], oda);
    const turner = makeFaceTurner(oda, map);
    const { turns, weights } = turner([0, 30, 0], [20, 0]);
    const joints = Object.keys(turns);
    expect(joints).toHaveLength(4);
    expect(weights).toEqual({});
    const size = (name: string): number => Math.hypot(...turns[name]!);
    const [neck, head] = joints
      .filter((j) => /neck|head/i.test(j))
      .map(size)
      .sort((a, b) => a - b);
    expect(neck).toBeCloseTo(12, 0);
    expect(head).toBeCloseTo(18, 0);
    for (const eye of joints.filter((j) => /eye/i.test(j))) expect(size(eye)).toBeCloseTo(20, 0);
    const far = turner([0, 170, 0], [90, 0]);
    for (const angles of Object.values(far.turns)) expect(Math.hypot(...angles)).toBeLessThanOrEqual(35.5);
  });
  it("go to gaze shapes where the eyes have no joints", () => {
    const blind = { ...oda, skeleton: null };
    const { turns, weights } = makeFaceTurner(blind, proposeMap(["smile"], blind))(null, [17.5, -12.5]);
    expect(turns).toEqual({});
    expect(weights).toEqual({ AU61_left: 0.5, AU61_right: 0.5, AU63_left: 0.5, AU63_right: 0.5 });
  });
});

describe("a stream", () => {
  const hello = { type: "hello", version: 1, source: "s", take: "t", rate: 60, seconds: 1, channels: ["a", "b"] };
  const frame = (index: number, values: unknown = [0, 0]): object => ({
    type: "frame",
    index,
    time: index / 60,
    values,
  });
  const opened = (): StreamReader => {
    const reader = new StreamReader();
    reader.push(JSON.stringify(hello), 0);
    return reader;
  };
  it("counts what is lost, late, missing and twice, and goes on", () => {
    const reader = opened();
    const kinds = [frame(0), frame(1), frame(4), frame(3), frame(3), frame(5, null)].map((m, i) => {
      const got = reader.push(JSON.stringify(m), 16 * i);
      return got.kind === "frame" ? (got.late ? "late" : "frame") : got.kind;
    });
    expect(kinds).toEqual(["frame", "frame", "frame", "late", "refused", "frame"]);
    expect(reader.counts).toEqual({ frames: 5, lost: 1, missing: 1, late: 1, refused: 1 });
    expect(reader.rate).toBeGreaterThan(40);
  });
  it.each([
    ["no JSON", "hello", /no JSON/],
    ["something else", '{"type":"joke"}', /not of the protocol/],
    ["a frame of another length", JSON.stringify(frame(0, [1])), /1 values for 2 channels/],
    ["no number", JSON.stringify(frame(0, ["a", 1])), /not of the protocol/],
    ["far too much", "x".repeat(70_000), /too long/],
    [
      "a thousand channels",
      JSON.stringify({ ...hello, channels: Array.from({ length: 1000 }, (_, i) => `c${i}`) }),
      /1000 channels; up to 500/,
    ],
  ])("says what it does not understand: %s", (_what, text, why) => {
    const got = opened().push(text, 0);
    expect(got.kind === "refused" && got.why).toMatch(why);
  });
  it("says when frames come before what they are", () => {
    expect(new StreamReader().push(JSON.stringify(frame(0)), 0)).toMatchObject({ kind: "refused" });
  });
});
