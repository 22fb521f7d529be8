import { boxPart, characterWith, skeletonOf } from "../../tests/helpers/characters";
import { deform } from "~core/deform/rig";
import { REST_MOMENT } from "~core/evaluate/moment";
import type { Vec3 } from "~core/math/vec3";
import type { Character } from "~core/model/character";
import { makeLoaded } from "../session/session";
import { cameraFor, FIELD_OF_VIEW, viewOf, viewOfPlace, type View } from "./framings";

/** A post of 1.8 m with the joints of a figure. */
const post = (extra: Partial<Character> = {}): Character =>
  characterWith({
    parts: [boxPart("skin", [0.2, 0.9, 0.15], [0, 0.9, 0])],
    skeleton: skeletonOf([
      { name: "hips", parent: -1, translation: [0, 0.95, 0] },
      { name: "head", parent: 0, translation: [0, 0.65, 0] },
      { name: "leftEye", parent: 1, translation: [0.03, 0.06, 0.08] },
      { name: "rightEye", parent: 1, translation: [-0.03, 0.06, 0.08] },
      { name: "leftUpperArm", parent: 0, translation: [0.2, 0.45, 0] },
      { name: "arm roll", parent: 4, translation: [0.15, 0, 0] },
      { name: "leftLowerArm", parent: 5, translation: [0.15, 0, 0] },
      { name: "leftHand", parent: 6, translation: [0.25, 0, 0] },
      { name: "rightUpperLeg", parent: 0, translation: [-0.1, -0.05, 0] },
      { name: "rightLowerLeg", parent: 8, translation: [0, -0.42, 0] },
      { name: "rightFoot", parent: 9, translation: [0, -0.42, 0] },
    ]),
    jointMap: Object.fromEntries(
      [
        "hips",
        "head",
        "leftEye",
        "rightEye",
        "leftUpperArm",
        "leftLowerArm",
        "leftHand",
        "rightUpperLeg",
        "rightLowerLeg",
        "rightFoot",
      ].map((n) => [n, n]),
    ),
    ...extra,
  });
const seen = (framing: string, pose = {}, character = post()): View => {
  const loaded = makeLoaded(character, "", null);
  return viewOf(framing, loaded, { ...REST_MOMENT, pose }, deform(loaded.rig, { ...REST_MOMENT, pose }));
};
const distance = (a: Vec3, b: Vec3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

describe("framings", () => {
  it("show the whole figure from its middle", () => {
    const { centre, radius } = seen("whole");
    centre.forEach((x, i) => expect(x).toBeCloseTo([0, 0.9, 0][i]!, 6));
    expect(radius).toBeCloseTo(0.53 * 1.8, 6);
  });
  it("are found by the eyes: face, eyes and mouth stand at and under them, each nearer than the one before", () => {
    const [bust, face, eyes, mouth] = ["bust", "face", "eyes", "mouth"].map((f) => seen(f)) as [View, View, View, View];
    expect(eyes.centre[1]).toBeCloseTo(0.95 + 0.65 + 0.06, 6);
    expect(mouth.centre[1]).toBeLessThan(eyes.centre[1] - 0.05);
    expect(face.centre[1]).toBeLessThan(eyes.centre[1]);
    expect([bust.radius, face.radius, eyes.radius].every((r, i, all) => i === 0 || r < all[i - 1]!)).toBe(true);
  });
  it("go along with the pose: a head that nods takes the eyes' view with it", () => {
    expect(seen("eyes", { head: [40, 0, 0] }).centre[1]).toBeLessThan(seen("eyes").centre[1] - 0.03);
    expect(seen("joint leftHand", { leftUpperArm: [0, 0, 60] }).centre[1]).toBeGreaterThan(
      seen("joint leftHand").centre[1] + 0.2,
    );
  });
  it(
    "of a joint are taken from its own side, with room for " +
      "its size; a joint between bones counts to the one above",
    () => {
      expect(seen("joint leftHand").from[0]).toBeGreaterThan(0.3);
      expect(seen("joint rightLowerLeg").from[0]).toBeLessThan(-0.7);
      expect(seen("joint arm roll").radius).toBeCloseTo(seen("joint leftUpperArm").radius, 9);
      expect(seen("joint leftHand").radius).toBeLessThan(seen("joint leftUpperArm").radius);
    },
  );
  it("fall back to the whole for names that are not there, and guess the head where there is no skeleton", () => {
    expect(seen("joint tail")).toEqual(seen("whole"));
    expect(seen("hands", {}, post({ jointMap: { leftHand: null } })).radius).toBeGreaterThan(0.5);
    const { centre } = seen("face", {}, post({ skeleton: null, jointMap: {} }));
    expect(centre[1]).toBeCloseTo(0.92 * 1.8, 6);
  });
});

describe("the view of a place", () => {
  const loaded = makeLoaded(post(), "", null);
  const deformed = deform(loaded.rig, REST_MOMENT);
  const right = [...loaded.character.parts[0]!.positions.keys()]
    .filter((i) => i % 3 === 0 && loaded.character.parts[0]!.positions[i]! > 0)
    .map((i) => i / 3);
  it("looks along the mean normal of the vertices, from outside", () => {
    const view = viewOfPlace({ part: "skin", vertices: right }, loaded, deformed)!;
    expect(view.centre[0]).toBeCloseTo(0.2, 6);
    expect(view.from[0]).toBeGreaterThan(0.8);
    expect(view.radius).toBeCloseTo(2.2 * Math.hypot(0.9, 0.15), 4);
  });
  it("goes round what stands in the way", () => {
    const walled = makeLoaded(
      post({ parts: [post().parts[0]!, boxPart("wall", [0.01, 2, 2], [0.5, 0.9, 0], "garment")] }),
      "",
      null,
    );
    const view = viewOfPlace({ part: "skin", vertices: right }, walled, deform(walled.rig, REST_MOMENT))!;
    // the wall is 0.3 m before the side: seen from in front, from above or along it, not through it
    expect(view.from[0]).toBeLessThan(0.8);
  });
  it("is none for parts that are not there or have no such vertices, and keeps a least size", () => {
    expect(viewOfPlace({ part: "hat", vertices: [0] }, loaded, deformed)).toBeNull();
    expect(viewOfPlace({ part: "skin", vertices: [] }, loaded, deformed)).toBeNull();
    expect(viewOfPlace({ part: "skin", vertices: [9999] }, loaded, deformed)).toBeNull();
    expect(viewOfPlace({ part: "skin", vertices: [0], least: 0.2 }, loaded, deformed)!.radius).toBe(0.2);
  });
});

describe("the camera", () => {
  const view: View = { centre: [0, 1, 0], radius: 0.5, from: [0, 0, 1] };
  it.each([2, 1, 0.4])("holds the whole sphere of a view at width over height %d", (aspect) => {
    const { position, target } = cameraFor(view, aspect);
    expect(target).toEqual(view.centre);
    const half = (FIELD_OF_VIEW * Math.PI) / 360;
    const narrow = Math.min(half, Math.atan(Math.tan(half) * aspect));
    // the sphere's edge is seen under asin(radius / distance)
    const edge = Math.asin(view.radius / distance(position, target));
    expect(edge).toBeLessThan(narrow);
    expect(edge).toBeGreaterThan(0.9 * narrow);
  });
});
