import fc from "fast-check";
import { randomFrom } from "../../tests/helpers/random";
import {
  boxPart,
  characterWith,
  partOf,
  randomCharacter,
  randomPose,
  rigidSkin,
  shapeOf,
  skeletonOf,
  tube,
} from "../../tests/helpers/characters";
import { computeNormals } from "./computeNormals";
import { weightsAt } from "../evaluate/evaluate";
import { driverAngle, driverWeightAt, EASINGS } from "../evaluate/drivers/driverWeight";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { allocateDeformed, deform, makeRig, withShapes } from "./rig";
import { REST_MOMENT } from "../evaluate/moment";
import { translationOf } from "../math/mat4";
import { NO_JOINT, type Character, type Driver, type Easing } from "../model/character";

const driver: Driver = {
  shape: "bulge",
  joint: "lower",
  axis: [1, 0, 0],
  fromDegrees: 40,
  toDegrees: 100,
  easing: "linear",
  intensity: 1,
  enabled: true,
};

describe("joint offsets of shapes", () => {
  const limb = tube();
  const half = limb.parts[0]!.positions.length / 3;
  /** Doubles the limb's length; the lower joint goes along. */
  const longer = {
    name: "longer",
    label: "longer",
    deltas: [
      {
        part: 0,
        vertices: Uint32Array.from({ length: half }, (_, v) => v),
        deltas: Float32Array.from({ length: 3 * half }, (_, i) => (i % 3 === 1 ? limb.parts[0]!.positions[i]! : 0)),
      },
    ],
    jointOffsets: [{ joint: "lower", offset: [0, 0.3, 0] as const }],
  };
  const character: Character = { ...limb, shapes: [longer] };
  const ends = (weight: number, deg: number, shapes = character): Float32Array =>
    deform(
      makeRig(shapes),
      { ...REST_MOMENT, pose: { lower: [deg, 0, 0] }, weights: { longer: weight } },
      { normals: false },
    ).positions[0]!;
  const tip = (P: Float32Array): number[] => Array.from(P.subarray(P.length - 3));
  it("leave the rest to the shape alone", () => expect(tip(ends(1, 0))[1]).toBeCloseTo(1.2, 6));
  it("bend the longer limb about its own middle", () => {
    const [x, y, z] = tip(ends(1, 90));
    expect([x, y, z].map((v) => Math.round(1e5 * v!) / 1e5)).toEqual([0, 0.6, 0.6]);
    const [, yHalf, zHalf] = tip(ends(0.5, 90));
    expect([yHalf, zHalf].map((v) => Math.round(1e5 * v!) / 1e5)).toEqual([0.45, 0.45]);
  });
  it("without them the limb bends about where the joint was", () => {
    const bare = { ...character, shapes: [{ name: "longer", label: "longer", deltas: longer.deltas }] };
    expect(tip(ends(1, 90, bare))[1]).toBeCloseTo(0.3, 5);
  });
  it("move parts bound by matrices of their own alike", () => {
    const own = {
      ...character,
      parts: [
        { ...limb.parts[0]!, skin: { ...limb.parts[0]!.skin!, inverseBinds: limb.skeleton!.inverseBinds.slice() } },
      ],
    };
    expect(tip(ends(1, 90, own))).toEqual(tip(ends(1, 90)));
  });
});

describe("poses", () => {
  it("turn children about their parents", () => {
    const skeleton = skeletonOf([
      { name: "a", parent: NO_JOINT },
      { name: "b", parent: 0, translation: [0, 1, 0] },
      { name: "c", parent: 1, translation: [0, 1, 0] },
    ]);
    const world = worldMatrices(skeleton, { a: [0, 0, 90] });
    const at = (j: number): number[] => translationOf(world, 16 * j).map((x) => Math.round(x * 1e6) / 1e6 + 0);
    expect(at(1)).toEqual([-1, 0, 0]);
    expect(at(2)).toEqual([-2, 0, 0]);
  });
  it("are applied on top of the rest rotation, in the joint's own frame", () => {
    const turned = skeletonOf([
      { name: "a", parent: NO_JOINT, rotation: [0, 0, Math.SQRT1_2, Math.SQRT1_2] },
      { name: "b", parent: 0, translation: [0, 1, 0] },
    ]);
    // own Y axis points to -X of the character; a quarter turn about it carries nothing along it
    expect(
      translationOf(worldMatrices(turned, { a: [0, 90, 0] }), 16).map((x) => Math.round(x * 1e6) / 1e6 + 0),
    ).toEqual([-1, 0, 0]);
  });
});

describe("deforming", () => {
  it.each(["linear", "dual"] as const)("leaves the rest pose as it is (%s)", (method) => {
    const character = randomCharacter(randomFrom(3));
    const out = deform(makeRig(character), { ...REST_MOMENT, method });
    out.positions[0]!.forEach((x, i) => expect(x).toBeCloseTo(character.parts[0]!.positions[i]!, 5));
  });
  it.each(["linear", "dual"] as const)("moves a rigid part as a whole (%s)", (method) => {
    const box = boxPart();
    const character = characterWith({
      parts: [{ ...box, skin: rigidSkin(8, 0) }],
      skeleton: skeletonOf([{ name: "root", parent: NO_JOINT, translation: [0, 1, 0] }]),
    });
    const { positions } = deform(makeRig(character), { ...REST_MOMENT, method, pose: { root: [0, 0, 90] } });
    // (0.5, -0.5) is (0.5, -1.5) from the joint; a quarter turn makes that (1.5, 0.5)
    expect([...positions[0]!.subarray(3, 6)].map((x) => Math.round(x * 1e5) / 1e5)).toEqual([1.5, 1.5, -0.5]);
  });
  it("agrees between the two methods where one joint holds all", () => {
    const random = randomFrom(9);
    const character = randomCharacter(random, { influences: 1 });
    const pose = randomPose(random, character);
    const rig = makeRig(character);
    const a = deform(rig, { ...REST_MOMENT, pose }).positions[0]!;
    const b = deform(rig, { ...REST_MOMENT, pose, method: "dual" }).positions[0]!;
    a.forEach((x, i) => expect(b[i]).toBeCloseTo(x, 5));
  });
  it("adds shapes before skinning, linearly in their weight", () => {
    const character = { ...tube(), shapes: [shapeOf("bulge", { 10: [0.01, 0, 0], 11: [0, 0.02, 0] })] };
    const rig = makeRig(character);
    const at = (w: number): Float32Array =>
      deform(rig, { ...REST_MOMENT, weights: { bulge: w } }).positions[0]!.slice();
    const [rest, half, full] = [at(0), at(0.5), at(1)];
    rest.forEach((x, i) => expect(half[i]! - x).toBeCloseTo((full[i]! - x) / 2, 6));
    expect(full[30]! - rest[30]!).toBeCloseTo(0.01, 6);
  });
  it("reuses what it is given and deforms only the parts asked for", () => {
    const character = characterWith({ parts: [boxPart("a"), boxPart("b")] });
    const rig = makeRig(character);
    const out = allocateDeformed(rig);
    expect(deform(rig, REST_MOMENT, { out, parts: [1] })).toBe(out);
    expect(out.positions[0]!.every((x) => x === 0)).toBe(true);
    expect([...out.positions[1]!]).toEqual([...character.parts[1]!.positions]);
  });
  it("takes other shapes on the same tables", () => {
    const plain = tube();
    const rig = withShapes(makeRig(plain), { ...plain, shapes: [shapeOf("new", { 0: [0, 0, 1] })] });
    expect(deform(rig, { ...REST_MOMENT, weights: { new: 1 } }).positions[0]![2]).toBeCloseTo(1, 6);
  });
});

describe("normals", () => {
  it("stand on the faces of a box at its doubled corners and are shared at one place", () => {
    const part = boxPart();
    const rig = makeRig(characterWith({ parts: [part] }));
    const out = new Float32Array(part.positions.length);
    computeNormals(part.positions, rig.normalFaces[0]!, null, out);
    for (let v = 0; v < 8; v++) {
      const n = out.subarray(3 * v, 3 * v + 3);
      expect(Math.hypot(...n)).toBeCloseTo(1, 5);
      [0, 1, 2].forEach((k) => expect(Math.sign(n[k]!)).toBe(Math.sign(part.positions[3 * v + k]!)));
    }
  });
});

describe("normals of mixed faces", () => {
  it("agree between quads and their triangles on a flat surface, and join over a seam", () => {
    // a tent: two flat quads that meet in a ridge whose vertices are doubled
    const points: [number, number, number][] = [
      [0, 0, 0],
      [0, 0, 1],
      [1, 1, 1],
      [1, 1, 0],
      [1, 1, 0],
      [1, 1, 1],
      [2, 0, 1],
      [2, 0, 0],
    ];
    const normalsOf = (faces: number[][]): Float32Array =>
      deform(makeRig(characterWith({ parts: [partOf("tent", points, faces)] })), REST_MOMENT).normals[0]!;
    const quads = normalsOf([
      [0, 1, 2, 3],
      [4, 5, 6, 7],
    ]);
    const ridge = [...quads.subarray(6, 9)];
    expect(ridge.map((x) => Math.round(x * 1e6) / 1e6 + 0)).toEqual([0, 1, 0]);
    expect([...quads.subarray(15, 18)]).toEqual(ridge);
    const slope = normalsOf([
      [0, 1, 2],
      [0, 2, 3],
      [4, 5, 6, 7],
    ]);
    expect(slope[0]).toBeCloseTo(quads[0]!, 6);
    expect(slope[1]).toBeCloseTo(Math.SQRT1_2, 6);
  });
});

describe("drivers", () => {
  it("read the turn about their own axis", () => {
    expect(driverAngle(driver, { lower: [70, 0, 0] })).toBeCloseTo(70, 6);
    expect(driverAngle({ ...driver, axis: [-1, 0, 0] }, { lower: [70, 0, 0] })).toBeCloseTo(-70, 6);
    expect(driverAngle(driver, {})).toBeCloseTo(0, 9);
  });
  it.each<[number, number]>([
    [0, 0],
    [40, 0],
    [70, 0.5],
    [100, 1],
    [140, 1],
  ])("at %d degrees weigh %d", (angle, weight) => expect(driverWeightAt(driver, angle)).toBeCloseTo(weight, 9));
  it("work in the negative direction, with intensity, and not when off", () => {
    expect(driverWeightAt({ ...driver, fromDegrees: -20, toDegrees: -60 }, -40)).toBeCloseTo(0.5, 9);
    expect(driverWeightAt({ ...driver, intensity: 0.4 }, 120)).toBeCloseTo(0.4, 9);
    expect(driverWeightAt({ ...driver, enabled: false }, 120)).toBe(0);
    expect([
      driverWeightAt({ ...driver, fromDegrees: 50, toDegrees: 50 }, 49),
      driverWeightAt({ ...driver, fromDegrees: 50, toDegrees: 50 }, 50),
    ]).toEqual([0, 1]);
  });
  it("ease from 0 to 1 without turning back", () => {
    for (const easing of Object.keys(EASINGS) as Easing[])
      fc.assert(
        fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (a, b) => {
          const [lo, hi] = a < b ? [a, b] : [b, a];
          expect(EASINGS[easing](lo)).toBeLessThanOrEqual(EASINGS[easing](hi) + 1e-12);
          expect([EASINGS[easing](0), EASINGS[easing](1)]).toEqual([0, 1]);
        }),
      );
  });
  it("add to weights set by hand and are left out when asked", () => {
    const character = { ...tube(), shapes: [shapeOf("bulge", { 1: [0, 0, 1] })], drivers: [driver] };
    expect([
      ...weightsAt(character, {
        ...REST_MOMENT,
        pose: { lower: [100, 0, 0] },
        weights: { bulge: 0.25, gone: 1 },
        drivers: true,
      }),
    ]).toEqual([1.25]);
    expect([
      ...weightsAt(character, {
        ...REST_MOMENT,
        pose: { lower: [100, 0, 0] },
        weights: { bulge: 0.25 },
        drivers: false,
      }),
    ]).toEqual([0.25]);
  });
});
