import { loadOda } from "../../../demo/cast";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { makeLipGauge } from "../../measure/lipCross";
import { eyeballsOf } from "../../measure/eyeballs";
import { assertCharacter } from "../../model/assertCharacter";
import { jointIndexOf, type Character } from "../../model/character";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { applyRepair, describeRepair, repairSchema, type Repair } from "./repairs";

const oda = await loadOda();
const done = (r: Repair): Character => applyRepair(oda, repairSchema.parse(r));
const indexOf = (kind: string): number => oda.parts.findIndex((p) => p.kind === kind);
const shown = (c: Character, weights: Record<string, number>, part: number): Float32Array =>
  deform(makeRig(c), { ...REST_MOMENT, weights, drivers: false }, { normals: false }).positions[part]!;
const apart = (a: Float32Array, b: Float32Array, v: number): number =>
  Math.hypot(a[3 * v]! - b[3 * v]!, a[3 * v + 1]! - b[3 * v + 1]!, a[3 * v + 2]! - b[3 * v + 2]!);

describe("what lies in the face, trimmed under all shapes", () => {
  const tongue = indexOf("tongue");
  const { name } = oda.parts[tongue]!;
  it("a tongue that is moved is moved by as much at rest and under every shape", () => {
    const moved = done({ what: "trim part", part: name, moveMm: [1, -2, 3], size: [1, 1, 1] });
    for (const weights of [{}, { AU19: 1 }, { AU26: 1 }, { proportion_child: 1 }] as Record<string, number>[]) {
      const [a, b] = [shown(oda, weights, tongue), shown(moved, weights, tongue)];
      for (let v = 0; v < a.length / 3; v += 7) expect(apart(a, b, v)).toBeCloseTo(Math.hypot(1, 2, 3) / 1000, 5);
    }
    assertCharacter(moved);
  });
  it(
    "one that is scaled keeps its middle, scales what shapes " +
      "do to its form, and goes as far with a build as before",
    () => {
      const slim = done({ what: "trim part", part: name, moveMm: [0, 0, 0], size: [0.5, 1, 1] });
      const middle = (P: Float32Array): number[] =>
        [0, 1, 2].map((c) => P.reduce((s, x, i) => (i % 3 === c ? s + x : s), 0) / (P.length / 3));
      const width = (P: Float32Array): number =>
        Math.max(...P.filter((_, i) => i % 3 === 0)) - Math.min(...P.filter((_, i) => i % 3 === 0));
      const of = (c: Character, w: Record<string, number>): Float32Array => shown(c, w, tongue);
      expect(width(of(slim, {}))).toBeCloseTo(0.5 * width(of(oda, {})), 6);
      middle(of(slim, {})).forEach((x, i) => expect(x).toBeCloseTo(middle(of(oda, {}))[i]!, 6));
      expect(width(of(slim, { AU19: 1 }))).toBeCloseTo(0.5 * width(of(oda, { AU19: 1 })), 5);
      middle(of(slim, { proportion_child: 1 })).forEach((x, i) =>
        expect(Math.abs(x - middle(of(oda, { proportion_child: 1 }))[i]!)).toBeLessThan(1e-4),
      );
    },
  );
  it("an eye takes its joint along, and stays round when it grows evenly", () => {
    const eye = eyeballsOf(oda).find((e) => e.side === "left")!;
    const grown = done({
      what: "trim part",
      part: oda.parts[eye.part]!.name,
      moveMm: [1.5, 0, 1],
      size: [1.1, 1.1, 1.1],
    });
    const after = eyeballsOf(grown).find((e) => e.side === "left")!;
    expect(after.radius).toBeCloseTo(1.1 * eye.radius, 4);
    const joint = humanoidMap(oda.skeleton!, oda.jointMap).jointOfBone.get("leftEye")!;
    const at = (c: Character): readonly number[] =>
      translationOf(worldMatrices(c.skeleton!, {}), 16 * jointIndexOf(c.skeleton!, oda.skeleton!.joints[joint]!.name));
    [1.5, 0, 1].forEach((mm, c) => expect(at(grown)[c]! - at(oda)[c]!).toBeCloseTo(mm / 1000, 6));
    // turned by its joint it turns about its own middle: the skin of the ball stays where a ball's skin is
    const pose = { [oda.skeleton!.joints[joint]!.name]: [0, 20, 0] as const };
    const turned = deform(makeRig(grown), { ...REST_MOMENT, pose }, { normals: false }).positions[eye.part]!;
    const still = grown.parts[eye.part]!.positions;
    for (let v = 0; v < still.length / 3; v += 11)
      expect(
        Math.abs(
          Math.hypot(...[0, 1, 2].map((c) => turned[3 * v + c]! - after.centre[c]!)) -
            Math.hypot(...[0, 1, 2].map((c) => still[3 * v + c]! - after.centre[c]!)),
        ),
      ).toBeLessThan(5e-4);
  });
  it("is refused for skin and for what is not there", () => {
    expect(() =>
      done({ what: "trim part", part: oda.parts[indexOf("body")]!.name, moveMm: [0, 0, 0], size: [1, 1, 1] }),
    ).toThrow(/neither eye, teeth nor tongue/);
    expect(() => done({ what: "trim part", part: "gills", moveMm: [0, 0, 0], size: [1, 1, 1] })).toThrow(
      /no part named gills/,
    );
  });
});

describe("lips, trimmed under all shapes", () => {
  const gauge = makeLipGauge(makeRig(oda))!;
  const P = oda.parts[gauge.part]!.positions;
  const edge = [...new Set(gauge.finder.still.triangles)]
    .filter((v) => Math.abs(P[3 * v]!) < 0.004)
    .reduce((b, v) => (P[3 * v + 1]! < P[3 * b + 1]! ? v : b));
  it("the seam goes back and up by what is asked in the middle, the corners and the rest of the face stay", () => {
    const moved = done({ what: "trim lips", depthMm: 2, heightMm: 1.5, hidden: 0 }).parts[gauge.part]!.positions;
    expect(P[3 * edge + 2]! - moved[3 * edge + 2]!).toBeCloseTo(0.002, 4);
    expect(moved[3 * edge + 1]! - P[3 * edge + 1]!).toBeCloseTo(0.0015, 4);
    const centre = gauge.finder.region.centre;
    for (let v = 0; v < P.length / 3; v++)
      if (apart(P, moved, v) > 1e-6)
        expect(Math.hypot(P[3 * v]! - centre[0], P[3 * v + 1]! - centre[1], P[3 * v + 2]! - centre[2])).toBeLessThan(
          2 * gauge.halfWidth,
        );
  });
  it("shapes keep what they add to it", () => {
    const after = done({ what: "trim lips", depthMm: 1, heightMm: 0, hidden: 0.5 });
    expect(after.shapes).toBe(oda.shapes);
  });
  it("rolled in, the red of the lips is lower than before, and left and right alike", () => {
    const rolled = done({ what: "trim lips", depthMm: 0, heightMm: 0, hidden: 0.6 }).parts[gauge.part]!.positions;
    const upper = [...new Set(gauge.finder.still.triangles)].filter(
      (v) => Math.abs(P[3 * v]!) < 0.004 && P[3 * v + 1]! - P[3 * edge + 1]! < 0.006,
    );
    const height = (Q: Float32Array): number =>
      Math.max(...upper.map((v) => Q[3 * v + 1]!)) - Math.min(...upper.map((v) => Q[3 * v + 1]!));
    expect(height(rolled)).toBeLessThan(0.85 * height(P));
    const sums = [0, 0];
    for (let v = 0; v < P.length / 3; v++)
      if (Math.abs(P[3 * v]!) > 1e-5) sums[P[3 * v]! > 0 ? 0 : 1]! += apart(P, rolled, v);
    expect(sums[0]! / sums[1]!).toBeCloseTo(1, 2);
  });
  it("are told as sentences", () =>
    expect(describeRepair({ what: "trim lips", depthMm: 1, heightMm: 0, hidden: 0.25 })).toBe(
      "trimmed the lips under every shape: seam 1 mm back, 0 mm up, 25 % rolled in",
    ));
  it("are refused without a mouth", () =>
    expect(() =>
      applyRepair({ ...oda, shapes: [] }, { what: "trim lips", depthMm: 1, heightMm: 0, hidden: 0 }),
    ).toThrow(/lips are not found/));
});
