import { loadMember } from "../../demo/cast";
import { fitClip } from "../clips/fitClip";
import { NO_FITTING } from "../model/fitting";
import { PROFILES } from "../checks/profile";
import { makeFaceReader } from "../checks/pairs/readPairs";
import { allocateDeformed, deform, makeRig } from "../deform/rig";
import { evaluate } from "../evaluate/evaluate";
import type { Moment } from "../evaluate/moment";
import { translationOf } from "../math/mat4";
import { length, sub } from "../math/vec3";
import { makeJointGauge, measureJoint } from "../measure/measureJoint";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { bakeTrial } from "./bakeTrial";
import { compareMoments } from "./compare";
import { holdEnds } from "./holdEnds";
import { copyKeys, dropKeys, keyAll, keyTimes, moveKeys, NO_KEYS, scaleKeys, withKey, withoutKey } from "./keys";
import { valueAt } from "./keyCurve";
import { missingClips, momentAt } from "./momentAt";
import { coarseFirst, momentsOf, worstLine } from "./moments";
import {
  clipPiece as pieceOf,
  emptyTrial,
  shareAt,
  trialFrames,
  trialSchema,
  trialSeconds,
  type Piece,
  type Trial,
} from "./trial";
import { watchFeet } from "./watchFeet";
import { watchFrame, type FrameExcess } from "./watchFrame";

const oda = await loadMember("oda");
const rig = makeRig(oda);
const index = (name: string): number => oda.skeleton!.joints.findIndex((j) => j.name === name);
const clipPiece = (clip: string, start: number, to: number, more: Partial<Piece> = {}): Piece =>
  ({ ...pieceOf(clip, to, start, `${clip} ${start}`), ...more }) as Piece;
const withBody = (...body: Piece[]): Trial => ({ ...emptyTrial("t"), lanes: { ...emptyTrial("t").lanes, body } });

describe("pieces on the ruler", () => {
  it("count by their share, faded in and out, and not outside", () => {
    const p = clipPiece("wave", 2, 3, { fadeIn: 1, fadeOut: 0.5, share: 0.8 });
    expect([1.9, 2, 2.5, 3, 4, 4.75, 5, 5.1].map((t) => Number(shareAt(p, t).toFixed(3)))).toEqual([
      0, 0, 0.4, 0.8, 0.8, 0.4, 0, 0,
    ]);
    expect(shareAt({ ...p, on: false }, 3)).toBe(0);
  });
  it("play with their own speed and trim", () => {
    const trial = withBody(clipPiece("wave", 1, 3, { from: 1, speed: 2 }));
    expect(trialSeconds(trial)).toBe(2);
    expect(trialFrames(trial)).toBe(61);
    const [source] = momentAt(oda, trial, 1.5).sources!;
    expect(source).toMatchObject({ kind: "clip", seconds: 2 });
  });
  it("name clips that another character may lack: those play nothing", () => {
    const trial = withBody(clipPiece("moon", 0, 1));
    expect(missingClips(oda, trial)).toEqual(["moon"]);
    expect(momentAt(oda, trial, 0.5).sources).toEqual([]);
  });
  it("are refused as data where keys do not stand in order of time", () => {
    const keys = { joints: { head: { times: [1, 0.5], values: [0, 0, 0, 1, 1, 1] } }, shapes: {} };
    const bad = { name: "x", lanes: { body: [{ kind: "keys", id: "k", start: 0, to: 2, keys }] } };
    const read = trialSchema.safeParse(bad);
    expect(read.success).toBe(false);
    expect(JSON.stringify(read.error?.issues)).toContain("order of time");
  });
});

describe("feet that are held", () => {
  it.each([
    ["as the clip's own frames stand", 0, 1, 0],
    ["between them", 0.013, 1, 0],
    // between two keys a foot that leaves may be read as standing once more
    ["slower", 0, 0.7, 1],
  ])("slide nowhere in the trial, %s, where those of the clip as it came do", (_how, start, speed, most) => {
    const raw = oda.clips.find((c) => c.name === "walk")!;
    const held = { ...fitClip(oda, raw, { ...NO_FITTING, ground: true, hold: true }), name: "held" };
    const figure = { ...oda, clips: [raw, held] };
    const slides = (clip: string): number =>
      watchFeet(figure, withBody(clipPiece(clip, start, 1.1, { speed })), 0.1).filter((r) =>
        r.over.some((o) => o.check === "clip.foot-slide"),
      ).length;
    expect(slides("walk")).toBeGreaterThan(2);
    expect(slides("held")).toBeLessThanOrEqual(most);
  });
});

describe("keys", () => {
  const curve = withKey(withKey(withKey(undefined, 1, [10]), 0, [0]), 2, [4]);
  it("stand in order, replace one another, and go", () => {
    expect(curve.times).toEqual([0, 1, 2]);
    expect(withKey(curve, 1, [7]).values).toEqual([0, 7, 4]);
    expect(withoutKey(curve, 1)!.values).toEqual([0, 4]);
    expect(withoutKey(withKey(undefined, 0, [1]), 0)).toBeNull();
  });
  it("are stepped, straight or smooth between", () => {
    expect(valueAt({ ...curve, ease: "stepped" }, 1, 0.9)).toEqual([0]);
    expect(valueAt({ ...curve, ease: "straight" }, 1, 0.5)).toEqual([5]);
    // at a peak the smooth curve is level: it never goes over its keys
    for (let t = 0; t <= 2; t += 0.05) expect(valueAt(curve, 1, t)[0]).toBeLessThanOrEqual(10 + 1e-9);
  });
  it("are copied, moved, drawn out in time, and all keyed at once", () => {
    const keys = { ...NO_KEYS, shapes: { AU12_left: curve }, joints: { head: withKey(undefined, 1, [5, 0, 0]) } };
    expect(keyTimes(copyKeys(keys, 1, 3))).toEqual([0, 1, 2, 3]);
    expect(keyTimes(moveKeys(keys, 1, 1.5))).toEqual([0, 1.5, 2]);
    expect(keyTimes(scaleKeys(keys, 1, 2))).toEqual([0, 1, 3]);
    expect(keyTimes(dropKeys(keys, 1))).toEqual([0, 2]);
    const all = keyAll(oda, keys, 0.5);
    expect(all.joints["head"]!.times).toEqual([0.5, 1]);
    expect(all.shapes["AU12_left"]!.times).toEqual([0, 0.5, 1, 2]);
  });
  it("move angles, weights and the hips over what plays", () => {
    const keys = {
      joints: { head: withKey(undefined, 0, [12, 0, 0]) },
      shapes: { AU12_left: withKey(undefined, 0, [0.7]) },
      hips: withKey(undefined, 0, [0, -0.1, 0]),
    };
    const piece = { ...clipPiece("x", 0, 4), kind: "keys", name: "keys", keys } as unknown as Piece;
    const { world, weights } = evaluate(oda, momentAt(oda, withBody(piece), 1));
    expect(weights[oda.shapes.findIndex((s) => s.name === "AU12_left")]).toBeCloseTo(0.7, 6);
    const rest = evaluate(oda, momentAt(oda, withBody(), 0)).world!;
    expect(translationOf(rest, 16 * index("hips"))[1] - translationOf(world!, 16 * index("hips"))[1]).toBeCloseTo(
      0.1,
      6,
    );
  });
});

describe("hands and feet that are held", () => {
  it("stay where they stood, turned as they were, while hips and chest move", () => {
    const before = momentAt(oda, withBody(clipPiece("idle sway", 0, 8)), 1);
    const lower = { kind: "set", pose: {}, weights: {}, travel: { joint: "hips", by: [0, -0.06, 0.01] } } as const;
    const after = {
      ...before,
      pose: { hips: [3, 5, 0] as const, chest: [5, 0, 3] as const },
      sources: [...before.sources!, lower],
    };
    const ends = ["leftFoot", "rightFoot", "leftHand"] as const;
    const held = { ...after, pose: { ...after.pose, ...holdEnds(oda, before, after, ends) } };
    const at = (m: typeof before, name: string): readonly [number, number, number] =>
      translationOf(evaluate(oda, m).world!, 16 * index(name));
    for (const end of ends) {
      expect(length(sub(at(after, end), at(before, end)))).toBeGreaterThan(0.005);
      expect(length(sub(at(held, end), at(before, end)))).toBeLessThan(2e-3);
    }
  });
});

describe("every frame measured", () => {
  const motions = jointMotions(oda.skeleton!, humanoidMap(oda.skeleton!, oda.jointMap));
  const gauges = new Map<string, ReturnType<typeof makeJointGauge>>();
  const gauge = (joint: string): ReturnType<typeof makeJointGauge> => {
    if (!gauges.has(joint)) gauges.set(joint, makeJointGauge(rig, index(joint)));
    return gauges.get(joint)!;
  };
  const tables = { rig, motions, gauge, face: makeFaceReader(oda) };
  it("says what a joint's own reading says of the moment that the stage shows", () => {
    const trial = withBody(clipPiece("wave", 0, 3.5));
    const frames = [24, 30, 36, 42, 48, 54].map((frame) => {
      const moment = momentAt(oda, trial, frame / 30);
      const { over } = watchFrame(tables, frame, moment, PROFILES.realtime, allocateDeformed(rig));
      return { frame, moment, deep: over.find((o) => o.check === "pose.penetration") };
    });
    const { frame, moment, deep } = frames.find((f) => f.deep) as { frame: number; moment: Moment; deep: FrameExcess };
    expect(deep.place).toBe("right lower arm");
    const { reading } = measureJoint(gauge(deep.joint!)!, moment);
    expect(deep.value).toBeCloseTo(reading.depth, 9);
    // and the vertices of the frame are those that deform gives
    const [a, b] = [deform(rig, moment), deform(rig, momentAt(oda, trial, frame / 30))];
    expect(a.positions[0]).toEqual(b.positions[0]);
  });
  it("tells a smile that stays while lips pucker, and not a smile alone", () => {
    const keys = (pucker: number): Trial => {
      const weights = { AU12_left: 1, AU12_right: 1, AU18: pucker };
      const shapes = Object.fromEntries(Object.entries(weights).map(([n, w]) => [n, withKey(undefined, 0, [w])]));
      return withBody({
        ...clipPiece("x", 0, 1),
        kind: "keys",
        name: "k",
        keys: { joints: {}, shapes, hips: null },
      } as unknown as Piece);
    };
    const read = (pucker: number): readonly FrameExcess[] =>
      watchFrame(tables, 0, momentAt(oda, keys(pucker), 0), PROFILES.realtime, allocateDeformed(rig)).over;
    expect(read(1).map((o) => o.check)).toContain("pair.opposed");
    expect(read(0).map((o) => o.check)).not.toContain("pair.opposed");
  });
  it("finds the soles of the demo's walk under the floor, and its standing feet sliding", () => {
    const found = watchFeet(oda, withBody(clipPiece("walk", 0, 1.1)), 0.1).flatMap((r) => r.over);
    expect(found.some((o) => o.check === "clip.under-ground" && o.value > 50)).toBe(true);
    expect(found.some((o) => o.check === "clip.foot-slide")).toBe(true);
    expect(watchFeet(oda, withBody(clipPiece("wave", 0, 3.5)), 0.1)).toEqual([]);
  });
});

describe("frames as moments", () => {
  const excess = (value: number, place = "left knee"): FrameExcess => ({
    check: "pose.penetration",
    severity: "warn",
    value,
    unit: "mm",
    limit: 5,
    part: "body",
    joint: "knee",
    shape: null,
    place,
  });
  const reading = (frame: number, ...over: FrameExcess[]): Parameters<typeof momentsOf>[0][number] => ({
    frame,
    worst: Math.max(0, ...over.map((o) => o.value / o.limit)),
    over,
  });
  it("are stretches of one check at one place, worst first, with their worst frame", () => {
    const rows = [
      reading(0, excess(6)),
      reading(1, excess(9)),
      reading(2, excess(7)),
      reading(90, excess(12, "right knee")),
    ];
    expect(momentsOf(rows, 30).map((m) => [m.place, m.from, m.to, m.worstAt, m.value])).toEqual([
      ["right knee", 3, 3, 3, 12],
      ["left knee", 0, 2 / 30, 1 / 30, 9],
    ]);
  });
  it("come with a line of the worst of each frame; frames that were not read are bare", () => {
    expect(Array.from(worstLine([reading(1, excess(10))], 3))).toEqual([NaN, 2, NaN]);
  });
  it("are read coarsely first, each frame once", () => {
    const order = coarseFirst(100);
    expect(order.slice(0, 4)).toEqual([0, 32, 64, 96]);
    expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: 100 }, (_, i) => i));
  });
  it("are gone, new, better or worse between two versions", () => {
    const of = (...rows: ReturnType<typeof reading>[]): ReturnType<typeof momentsOf> => momentsOf(rows, 30);
    const { rows, counts } = compareMoments(
      of(reading(0, excess(10), excess(8, "b"), excess(6, "c"))),
      of(reading(0, excess(20), excess(6, "b"), excess(7, "d"))),
    );
    expect(rows.map((r) => [r.change, r.place])).toEqual([
      ["new", "d"],
      ["worse", "left knee"],
      ["better", "b"],
      ["gone", "c"],
    ]);
    expect(counts).toEqual({ new: 1, worse: 1, better: 1, gone: 1, "as before": 0 });
  });
});

describe("a trial as one clip", () => {
  it("plays the same turns, places and weights, also from a GLB", async () => {
    const keys = { ...NO_KEYS, shapes: { AU12_left: withKey(withKey(undefined, 0, [0]), 1, [0.8]) } };
    const smile = { ...clipPiece("k", 0, 1), kind: "keys", name: "k", keys } as unknown as Piece;
    const trial = withBody(clipPiece("wave", 0, 1), smile);
    const clip = bakeTrial(oda, trial, "both")!;
    const { clips } = await readGlb(await writeGlb({ ...oda, clips: [clip] }), "both.glb");
    expect(clips[0]!.weights!.map((w) => w.shape)).toEqual(["AU12_left"]);
    const baked = { ...oda, clips };
    for (const t of [0, 0.4, 0.9]) {
      const [a, b] = [
        evaluate(oda, momentAt(oda, trial, t, false)),
        evaluate(baked, momentAt(baked, withBody(clipPiece("both", 0, 1)), t, false)),
      ];
      a.world!.forEach((x, i) => expect(Math.abs(x - b.world![i]!)).toBeLessThan(1e-4));
      a.weights.forEach((w, i) => expect(Math.abs(w - b.weights[i]!)).toBeLessThan(0.02));
    }
  });
});
