import { tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { drivenWeights } from "../evaluate/drivers/drivenWeight";
import { fullMoments } from "../evaluate/drivers/fullMoment";
import { REST_MOMENT } from "../evaluate/moment";
import type { Pose } from "../evaluate/poseSkeleton";
import type { Character, Driver, Shape, ShapeDelta } from "../model/character";
import { angleBetweenQuats, fromAxisAngle, fromEulerXYZ, multiplyQuat } from "../math/quat";
import type { DriverTerm } from "../model/terms/driverTerms";
import { mixShapes } from "../shapes/mixShapes";
import { answerStacked } from "./stackedOn";

const limb = tube();
/** Skin of some rings pushed along x, y and z by as many metres. */
const push = (from: number, by: readonly [number, number, number]): ShapeDelta[] => {
  const vertices = Uint32Array.from({ length: 4 * 24 }, (_, k) => from * 24 + k);
  return [{ part: 0, vertices, deltas: Float32Array.from([...vertices].flatMap(() => [...by])) }];
};
const shape = (name: string, deltas: readonly ShapeDelta[]): Shape => ({ name, label: name, deltas });
const driver = (name: string, fromDegrees: number, toDegrees: number, intensity = 1): Driver => ({
  shape: name,
  joint: "lower",
  axis: [1, 0, 0],
  fromDegrees,
  toDegrees,
  easing: "smooth",
  intensity,
  enabled: true,
});
/** One at work from 20 to 60 degrees and on; another on top from 40 to 110; a third on top of both; one aside. */
const character: Character = {
  ...limb,
  shapes: [
    shape("first", push(14, [0.004, 0, 0])),
    shape("second", push(15, [0, 0, 0.006])),
    shape("third", push(16, [0.001, 0.002, 0])),
    shape("aside", push(14, [0, 0.003, 0])),
  ],
  drivers: [
    driver("first", 20, 60),
    driver("second", 40, 110, 0.8),
    driver("third", 100, 140),
    { ...driver("aside", 0, 50), axis: [0, 0, 1] },
  ],
};
const at = (c: Character, pose: Pose): Float32Array =>
  deform(makeRig(c), { ...REST_MOMENT, pose }, { normals: false }).positions[0]!;
const apart = (a: Float32Array, b: Float32Array): number =>
  1000 * a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i]!)), 0);
const withChange = (name: string, change: readonly ShapeDelta[]): Character => {
  const { edits } = answerStacked(character, name, change);
  const given = new Map(edits.map((e) => [e.name, e.deltas]));
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      s.name === name
        ? {
            ...s,
            deltas: mixShapes([
              [s, 1],
              [{ deltas: change }, 1],
            ]),
          }
        : { ...s, deltas: given.get(s.name) ?? s.deltas },
    ),
  };
};

describe("correctives sculpted on top of one that changes", () => {
  const change = push(15, [0.002, -0.003, 0.001]);
  it("give way, so that each is met at its own pose to 0.01 mm, and the change is seen at its own", () => {
    const now = withChange("first", change);
    for (const degrees of [110, 140])
      expect(apart(at(now, { lower: [degrees, 0, 0] }), at(character, { lower: [degrees, 0, 0] }))).toBeLessThan(0.01);
    expect(apart(at(now, { lower: [60, 0, 0] }), at(character, { lower: [60, 0, 0] }))).toBeGreaterThan(1);
  });
  it("are those that the changed one acts under, and no others", () => {
    // where the third is at full the second, which gives way, has made good already what the first brings
    expect(answerStacked(character, "first", change).edits.map((e) => e.name)).toEqual(["second"]);
    expect(answerStacked(character, "third", change).edits).toEqual([]);
    expect(answerStacked(character, "aside", change).edits).toEqual([]);
    expect(answerStacked(character, "gone", change)).toEqual({ edits: [], moved: [] });
  });
  it("tell those made before them whose sculpt they spoil", () => {
    const { edits, moved } = answerStacked(character, "second", change);
    expect(edits.map((e) => e.name)).toEqual(["third"]);
    // at 60 degrees the second is on its way already
    expect(moved.map((m) => m.name)).toEqual(["first"]);
    const now = withChange("second", change);
    const far = apart(at(now, { lower: [60, 0, 0] }), at(character, { lower: [60, 0, 0] }));
    expect(moved[0]!.mm).toBeGreaterThanOrEqual(far - 0.01);
    expect(moved[0]!.mm).toBeLessThan(4);
  });
  it("include poses of a set and drivers of several readings", () => {
    const turned: readonly [number, number, number, number] = [Math.sin(0.9), 0, 0, Math.cos(0.9)];
    const more: Character = {
      ...character,
      shapes: [...character.shapes, shape("sampled", push(18, [0.001, 0, 0])), shape("aimed", push(18, [0, 0.001, 0]))],
      sampleSets: [
        {
          name: "swing",
          joints: [{ joint: "lower", along: [0, 1, 0] }],
          samples: [{ name: "far", shape: "sampled", turns: [turned] }],
          kernel: "gaussian",
          radiusDegrees: 60,
          twistShare: 0.5,
          group: "corrective",
          enabled: true,
        },
      ],
      poseDrivers: [
        {
          shape: "aimed",
          terms: [
            {
              kind: "angle",
              joint: "lower",
              axis: [1, 0, 0],
              points: [
                { degrees: 50, weight: 0 },
                { degrees: 90, weight: 1 },
              ],
              between: "smooth",
            },
          ],
          rule: "product",
          group: "corrective",
          intensity: 1,
          enabled: true,
        },
      ],
    };
    expect(fullMoments(more).map((m) => m.shape)).toEqual(["first", "second", "third", "aside", "sampled", "aimed"]);
    expect(answerStacked(more, "first", change).edits.map((e) => e.name)).toEqual(["second", "sampled", "aimed"]);
  });

  it("a driver of two angles of one joint is at full where both are", () => {
    const angle = (axis: readonly [number, number, number], degrees: number): DriverTerm => ({
      kind: "angle",
      joint: "lower",
      axis,
      points: [
        { degrees: 0, weight: 0 },
        { degrees, weight: 1 },
      ],
      between: "straight",
    });
    const both: Character = {
      ...character,
      drivers: [],
      poseDrivers: [
        {
          shape: "first",
          terms: [angle([0, 1, 0], 50), angle([1, 0, 0], 40)],
          rule: "product",
          group: "corrective",
          intensity: 1,
          enabled: true,
        },
      ],
    };
    const [moment] = fullMoments(both);
    const { lower } = moment!.pose;
    expect(
      angleBetweenQuats(
        fromEulerXYZ(...lower!),
        multiplyQuat(fromAxisAngle([0, 1, 0], 50), fromAxisAngle([1, 0, 0], 40)),
      ),
    ).toBeCloseTo(0, 4);
    // the second turn alone would leave it at rest
    expect(drivenWeights(both, { ...REST_MOMENT, ...moment! })[0]).toBeGreaterThan(0.75);
    expect(drivenWeights(both, { ...REST_MOMENT, pose: { lower: [40, 0, 0] } })[0]).toBe(0);
  });
});
