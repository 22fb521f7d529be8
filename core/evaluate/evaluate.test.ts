import { loadMember } from "../../demo/cast";
import { shapeOf, tube } from "../../tests/helpers/characters";
import { clipMatrices } from "./clipMatrices";
import { playClip } from "../clips/playClip";
import { deform, makeRig } from "../deform/rig";
import { angleBetweenQuats, fromEulerXYZ, multiplyQuat } from "../math/quat";
import { translationOf } from "../math/mat4";
import { length, sub, type Quat } from "../math/vec3";
import type { Character, Clip, ClipTrack } from "../model/character";
import { evaluate, evaluationRoom, weightsAt } from "./evaluate";
import { REST_MOMENT } from "./moment";
import { worldMatrices } from "./poseSkeleton";
import { sampleTrack } from "./sampleTrack";
import { turnOf } from "./turns";

const driver = {
  shape: "bulge",
  joint: "lower",
  axis: [1, 0, 0],
  fromDegrees: 0,
  toDegrees: 100,
  easing: "linear",
  intensity: 1,
  enabled: true,
} as const;
const limb: Character = {
  ...tube(),
  shapes: [shapeOf("bulge", { 3: [0.01, 0, 0] }), shapeOf("more", { 4: [0.01, 0, 0] })],
  drivers: [driver],
  shapeDrivers: [{ shape: "more", of: ["bulge"], rule: "minimum", enabled: true }],
};
const lower = limb.skeleton!.joints.findIndex((j) => j.name === "lower");
const upper = limb.skeleton!.joints.findIndex((j) => j.name === "upper");
const track = (joint: string, path: ClipTrack["path"], times: number[], values: number[][]): ClipTrack => ({
  joint,
  path,
  interpolation: "LINEAR",
  times: Float32Array.from(times),
  values: Float32Array.from(values.flat()),
});
const restOf = (j: number): Quat => limb.skeleton!.joints[j]!.rotation;
/** The lower joint bends from 0 to 80 degrees in a second and would be drawn out; the root travels 0.4 m. */
const bend: Clip = {
  name: "bend",
  tracks: [
    track("lower", "rotation", [0, 1], [[...restOf(lower)], [...multiplyQuat(restOf(lower), fromEulerXYZ(80, 0, 0))]]),
    track(
      "upper",
      "translation",
      [0, 1],
      [[...limb.skeleton!.joints[upper]!.translation], [0.4, ...limb.skeleton!.joints[upper]!.translation.slice(1)]],
    ),
    track(
      "lower",
      "translation",
      [0, 1],
      [
        [0, 9, 0],
        [0, 9, 0],
      ],
    ),
    track("lower", "scale", [0], [[3, 3, 3]]),
  ],
};
const close = (a: ArrayLike<number>, b: ArrayLike<number>): void => {
  expect(a.length).toBe(b.length);
  expect(Math.max(...Array.from(a, (x, i) => Math.abs(x - b[i]!)))).toBeLessThan(1e-6);
};

describe("a moment set by hand", () => {
  const pose = { lower: [70, 10, -5], upper: [0, 20, 0], nobody: [1, 2, 3] } as const;
  it("stands as its angles say; names that are gone say nothing", () => {
    close(evaluate(limb, { ...REST_MOMENT, pose }).world!, worldMatrices(limb.skeleton!, pose));
  });
  it("drives shapes by its turns, and shapes by those", () => {
    const moment = { ...REST_MOMENT, pose: { lower: [60, 0, 0] as const }, weights: { gone: 1 } };
    close(weightsAt(limb, moment), [0.6, 0.6]);
    close(weightsAt(limb, { ...moment, drivers: false }), [0, 0]);
    close(weightsAt(limb, { ...moment, weights: { bulge: 0.1 } }), [0.7, 0.7]);
  });
});

describe("a clip as a source", () => {
  const at = (seconds: number, share = 1) => ({ ...REST_MOMENT, sources: [playClip(limb, bend, seconds, share)] });
  it("turns joints, carries the pelvis, and draws nothing else out", () => {
    const { turns, travel, world } = evaluate(limb, at(0.5));
    expect(angleBetweenQuats(turnOf(turns, lower), fromEulerXYZ(40, 0, 0))).toBeLessThan(1e-3);
    expect(travel![3 * upper]).toBeCloseTo(0.2, 6);
    const gap = length(sub(translationOf(world!, 16 * lower), translationOf(world!, 16 * upper)));
    expect(gap).toBeCloseTo(length(limb.skeleton!.joints[lower]!.translation), 6);
  });
  it("drives shapes by how it turns joints", () => close(weightsAt(limb, at(0.5)), [0.4, 0.4]));
  it("counts by its share, over what plays before it", () => {
    const { turns, travel } = evaluate(limb, at(1, 0.5));
    expect(angleBetweenQuats(turnOf(turns, lower), fromEulerXYZ(40, 0, 0))).toBeLessThan(1e-3);
    expect(travel![3 * upper]).toBeCloseTo(0.2, 6);
    const two = { ...REST_MOMENT, sources: [playClip(limb, bend, 1), playClip(limb, bend, 0, 0.25)] };
    expect(angleBetweenQuats(turnOf(evaluate(limb, two).turns, lower), fromEulerXYZ(60, 0, 0))).toBeLessThan(1e-3);
  });
  it("gives way to angles that are set by hand, joint by joint", () => {
    const { turns } = evaluate(limb, { ...at(1), pose: { lower: [5, 0, 0] } });
    expect(angleBetweenQuats(turnOf(turns, lower), fromEulerXYZ(5, 0, 0))).toBeLessThan(1e-3);
  });
  it("of a whole figure stands as the clip's own matrices say, at every moment", async () => {
    const oda = await loadMember("oda");
    const clip = oda.clips.find((c) => c.name === "walk") ?? oda.clips[0]!;
    const end = Math.max(...clip.tracks.flatMap((t) => [...t.times]));
    for (const share of [0, 0.31, 0.77, 1]) {
      const seconds = share * end;
      const { world } = evaluate(oda, { ...REST_MOMENT, sources: [playClip(oda, clip, seconds)], drivers: false });
      close(world!, clipMatrices(oda.skeleton!, clip, seconds));
    }
  });
  it("moves the skin where the same angles by hand would", () => {
    const rig = makeRig(limb);
    const still: Clip = { name: "still", tracks: bend.tracks.filter((t) => t.path === "rotation") };
    const played = deform(rig, { ...REST_MOMENT, sources: [playClip(limb, still, 1)] }).positions[0]!;
    close(played, deform(rig, { ...REST_MOMENT, pose: { lower: [80, 0, 0] } }).positions[0]!);
  });
});

describe("room that is used again", () => {
  it("holds nothing of the moment before", () => {
    const room = evaluationRoom(limb);
    evaluate(limb, { ...REST_MOMENT, sources: [playClip(limb, bend, 1)], weights: { bulge: 1 } }, room);
    const now = evaluate(limb, REST_MOMENT, room);
    close(now.world!, worldMatrices(limb.skeleton!, {}));
    close(now.weights, [0, 0]);
    expect(now.travel).toBeNull();
  });
});

describe("keys of a track", () => {
  const of = (interpolation: ClipTrack["interpolation"], values: number[]): ClipTrack => ({
    joint: "j",
    path: "translation",
    interpolation,
    times: Float32Array.of(1, 3),
    values: Float32Array.from(values),
  });
  it("stand still before the first and after the last, and between steps", () => {
    const line = of("LINEAR", [0, 0, 0, 4, 2, 0]);
    expect([0, 1, 2, 3, 9].map((t) => sampleTrack(line, t)[0])).toEqual([0, 0, 2, 4, 4]);
    expect(sampleTrack(of("STEP", [0, 0, 0, 4, 2, 0]), 2.99)[0]).toBe(0);
  });
  it("of a cubic spline follow the Hermite curve of the glTF 2.0 specification, appendix C", () => {
    // in-tangent, value, out-tangent of each key; 2 a second over two seconds from 0 to 4 is a straight line
    const straight = of("CUBICSPLINE", [2, 0, 0, 0, 0, 0, 2, 0, 0, 2, 0, 0, 4, 0, 0, 2, 0, 0]);
    for (const t of [1, 1.5, 2.2, 3]) expect(sampleTrack(straight, t)[0]).toBeCloseTo(2 * (t - 1), 5);
    // without tangents: p(t) = 3t^2 - 2t^3 of the way
    const eased = of("CUBICSPLINE", [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 4, 0, 0, 0, 0, 0]);
    for (const t of [0.1, 0.5, 0.8])
      expect(sampleTrack(eased, 1 + 2 * t)[0]).toBeCloseTo(4 * (3 * t * t - 2 * t ** 3), 5);
  });
});
