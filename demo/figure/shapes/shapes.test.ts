import { length, type Vec3 } from "../../../core/math/vec3";
import { EYE_CENTRE, EYE_RADIUS, onHead } from "../head/headForm";
import { WIDEST_OPENING } from "../head/lidShape";
import { buildSkin } from "../skin/buildSkin";
import { skinWeights } from "../rig/skinWeights";
import { isCovered, makeShirt, makeTrousers } from "../garments";
import { wholeForm } from "../skin/wholeForm";
import { at } from "../../modelling/fields";
import { skinColours } from "../parts/skinColours";
import { facePlaces, MARK, type FacePlace } from "./facePlaces";
import { sealed, withJaw } from "./jaw";
import { gazeAt, lids } from "./lids";
import { furrow, lips, midLip, shift, STILL, sum, swell } from "./movers";
import { innerBrow, moveBrow, outerBrow, slide } from "./units/brows";

const skin = buildSkin();
const places = facePlaces(skin);
const lidPlaces = places.filter((c) => c.head?.zone === "lid" && c.side > 0);
const lipPlaces = places.filter((c) => c.mouth?.onLip && c.side >= 0);
/** A bare place of the cheek, far from lips and lids. */
const cheek: FacePlace = {
  p: [40, -40, 76],
  side: 1,
  normal: [0, 0, 1],
  head: { zone: "grid", column: 9, row: 18 },
  mouth: null,
};

describe("places of the face", () => {
  it("are told on the left half, with the side the vertex is on", () => {
    expect(places.every((c) => c.p[0] >= 0)).toBe(true);
    skin.mirror.forEach((other, v) => expect(places[v]!.side + places[other]!.side).toBe(0));
  });
  it("run along the lips from the middle to the corner", () => {
    expect(Math.min(...lipPlaces.map((c) => c.mouth!.t))).toBe(0);
    expect(Math.max(...lipPlaces.map((c) => c.mouth!.t))).toBe(1);
    expect(
      lipPlaces
        .filter((c) => c.mouth!.upper === 1)
        .every((c) => c.mouth!.t === 1 || c.mouth!.ring > 8 || c.mouth!.above > -1.5),
    ).toBe(true);
  });
  it("know nothing of the mouth on the hands and the back of the head", () =>
    places.forEach((c) => (c.p[2] < 0 || c.p[1] < -160 ? expect(c.mouth).toBeNull() : undefined)));
});

describe("movers", () => {
  it("a shift is whole at its middle and nothing far off; a swelling goes along the normal", () => {
    expect(shift(cheek, [40, -40, 76], [5, 5, 5], [1, 2, 3])).toEqual([1, 2, 3]);
    expect(shift(cheek, [0, 60, 90], [5, 5, 5], [1, 2, 3])).toBe(STILL);
    expect(swell(cheek, [40, -40, 76], [5, 5, 5], 2)).toEqual([0, 0, 2]);
  });
  it("a furrow is deepest on its line and has a bank beside it", () => {
    const across = (x: number): number => furrow({ ...cheek, p: [x, -40, 76] }, [40, -50, 76], [40, -30, 76], 2, 1)[2];
    expect(across(40)).toBeLessThan(-0.9);
    expect(across(44)).toBeGreaterThan(0.1);
    expect(across(60)).toBe(0);
  });
  it("sums and fades as told", () => {
    expect(sum([1, 2, 3], [1, 0, -1])).toEqual([2, 2, 2]);
    expect([midLip(0), midLip(1)]).toEqual([1, 0]);
    expect([innerBrow(0), outerBrow(60)]).toEqual([1, 1]);
  });
  it("lips do what is asked of each, and places far from them nothing", () => {
    const up = lipPlaces.find((c) => c.mouth!.upper === 1 && c.mouth!.follows === 1)!;
    const low = lipPlaces.find((c) => c.mouth!.upper === 0 && c.mouth!.follows === 1)!;
    const open = (c: FacePlace): Vec3 => lips(c, ({ upper }) => [0, upper ? 1 : -1, 0], [10, 10, 10]);
    expect([open(up)[1], open(low)[1]]).toEqual([1, -1]);
    expect(open(cheek)).toBe(STILL);
  });
  it("skin slides over the skull without leaving it", () => {
    const p = onHead([20, 30, 92], 8);
    const d = slide({ ...cheek, p }, [0, 6, 0]);
    expect(d[1]).toBeGreaterThan(4);
    const there = onHead([p[0] + d[0], p[1] + d[1], p[2] + d[2]], 8);
    expect(length([there[0] - p[0] - d[0], there[1] - p[1] - d[1], there[2] - p[2] - d[2]])).toBeLessThan(0.3);
    expect(moveBrow({ ...cheek, p: [0, -60, 95] }, () => 1, 0, 9)).toEqual(STILL);
  });
});

describe("lids", () => {
  const closing = (shut: number): { upperDown: number; lowerUp: number; shut: number } => ({
    upperDown: 0.9 * WIDEST_OPENING * shut,
    lowerUp: 0.1 * WIDEST_OPENING * shut,
    shut,
  });
  it("never enter the eyeball, open, half shut and shut", () => {
    for (const share of [0, 0.5, 1])
      for (const c of lidPlaces) {
        if (c.head?.zone !== "lid" || c.head.ring < 7) continue;
        const d = lids(c, closing(share));
        expect(
          length([c.p[0] + d[0] - EYE_CENTRE[0], c.p[1] + d[1] - EYE_CENTRE[1], c.p[2] + d[2] - EYE_CENTRE[2]]),
        ).toBeGreaterThan(EYE_RADIUS);
      }
  });
  it("stay where they are when nothing is asked, and move the upper edge most when shut", () => {
    // kept off the cornea at rest too
    for (const c of lidPlaces) expect(length(lids(c, { upperDown: 0, lowerUp: 0 }))).toBeLessThan(0.8);
    const edge = lidPlaces
      .filter((c) => c.head?.zone === "lid" && c.head.ring === 8 && c.head.upper)
      .map((c) => lids(c, closing(1))[1]);
    expect(Math.min(...edge)).toBeLessThan(-8);
  });
  it("look where they are told", () => {
    expect(gazeAt(0, 0)).toEqual([0, 0, 1]);
    expect(gazeAt(90, 0)[0]).toBeCloseTo(1, 9);
    expect(gazeAt(0, -30)[1]).toBeCloseTo(-0.5, 9);
  });
});

describe("the jaw in the skin", () => {
  it("takes the chin along and leaves the forehead", () => {
    expect(withJaw({ ...cheek, p: MARK.chin, side: 0 }, { open: 12 })[1]).toBeLessThan(-12);
    expect(withJaw({ ...cheek, p: [0, 50, 93], side: 0 }, { open: 12 })).toBe(STILL);
  });
  it("a seal closes what the jaw parts: both lips together make up the way", () => {
    const pose = { open: 6 };
    const [up, low] = [true, false].map((upper) => sealed({ t: 0, upper, toSeam: 1 }, pose, 0.3)[1]) as [
      number,
      number,
    ];
    expect(up).toBeLessThan(0);
    expect(low).toBeGreaterThan(0);
    expect(low / (low - up)).toBeCloseTo(0.7, 6);
  });
});

describe("clothes and colours", () => {
  const weights = skinWeights(skin);
  it.each([
    ["shirt", makeShirt(skin, weights)],
    ["trousers", makeTrousers(skin, weights)],
  ] as const)("the %s lies off the skin, is mirrored, and is bound in full", (_name, garment) => {
    const inside = garment.points.filter((p) => at(wholeForm, p) < -0.002);
    expect(inside.length).toBeLessThan(0.02 * garment.points.length);
    const mean = garment.points.reduce((s, p) => s + p[0], 0) / garment.points.length;
    expect(Math.abs(mean)).toBeLessThan(1e-4);
    for (const list of garment.weights) expect(list.reduce((s, [, w]) => s + w, 0)).toBeCloseTo(1, 9);
  });
  it("what is covered is covered on both sides", () =>
    skin.mirror.forEach((other, v) => expect(isCovered(skin.tags[v]!)).toBe(isCovered(skin.tags[other]!))));
  it("colours are linear RGB, lips redder than cheeks", () => {
    const colours = skinColours(skin);
    expect(colours.every((c) => c.every((x) => x >= 0 && x <= 1))).toBe(true);
    const lip = colours[lipPlaces.length ? skin.head.mouthRings[6]![0]! : 0]!;
    const brow = colours[skin.headCount - 1]!;
    expect(lip[0] / lip[1]).toBeGreaterThan(brow[0] / brow[1]);
  });
});
