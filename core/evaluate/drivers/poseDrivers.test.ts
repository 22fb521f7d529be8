import fc from "fast-check";
import { tube, shapeOf } from "../../../tests/helpers/characters";
import { fromAxisAngle, multiplyQuat, rotate, toEulerXYZ } from "../../math/quat";
import { normalize, type Quat, type Vec3 } from "../../math/vec3";
import type { Character } from "../../model/character";
import { SAMPLE_KERNELS, type PoseDriver, type SampleSet } from "../../model/poseDriver";
import { weightsAt } from "../evaluate";
import { REST_MOMENT, type Moment } from "../moment";
import { monotoneSlopes, weightOnPoints } from "../../model/terms/anglePoints";
import { readySamples } from "./sampleWeights";
import { degreesOff } from "../../model/terms/directionTerm";
import type { DriverTerm } from "../../model/terms/driverTerms";

const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];
const anyTurn = fc
  .tuple(
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -1, max: 1, noNaN: true }),
    fc.double({ min: -180, max: 180, noNaN: true }),
  )
  .filter(([x, y, z]) => Math.hypot(x, y, z) > 0.1)
  .map(([x, y, z, deg]): Quat => fromAxisAngle(normalize([x, y, z]), deg));

const limb = tube({ rings: 9, sides: 6 });
const driver = (terms: readonly DriverTerm[], change: Partial<PoseDriver> = {}): PoseDriver => ({
  shape: "bulge",
  terms,
  rule: "product",
  group: "corrective",
  intensity: 1,
  enabled: true,
  ...change,
});
const driven = (change: Partial<Character>): Character => ({
  ...limb,
  shapes: ["bulge", "aside", "effort"].map((name) => shapeOf(name, { 0: [0, 0, 0.01] })),
  ...change,
});
const at = (turns: Readonly<Record<string, Quat>>, change: Partial<Moment> = {}): Moment => ({
  ...REST_MOMENT,
  pose: Object.fromEntries(Object.entries(turns).map(([j, q]) => [j, toEulerXYZ(q)])),
  ...change,
});

describe("a curve through points", () => {
  const points = [
    { degrees: -30, weight: 0.2 },
    { degrees: 20, weight: 0.2 },
    { degrees: 60, weight: 1 },
    { degrees: 90, weight: 0.7 },
    { degrees: 120, weight: 1.4 },
  ];
  const slopes = monotoneSlopes(points);
  it.each(points)("goes through $weight at $degrees degrees, smooth and straight", ({ degrees, weight }) => {
    expect(weightOnPoints(points, slopes, degrees)).toBeCloseTo(weight, 12);
    expect(weightOnPoints(points, null, degrees)).toBeCloseTo(weight, 12);
  });
  it("never leaves the heights of the points beside it, and is level beyond the ends", () => {
    fc.assert(
      fc.property(fc.double({ min: -30, max: 119.99, noNaN: true }), (angle) => {
        const i = points.findLastIndex((p) => p.degrees <= angle);
        const [a, b] = [points[i]!.weight, points[i + 1]!.weight];
        const w = weightOnPoints(points, slopes, angle);
        expect(w >= Math.min(a, b) - 1e-12 && w <= Math.max(a, b) + 1e-12).toBe(true);
      }),
    );
    expect(weightOnPoints(points, slopes, -500)).toBe(0.2);
    expect(weightOnPoints(points, slopes, 500)).toBe(1.4);
  });
  it("is the smooth step between two points", () =>
    expect(
      weightOnPoints(
        [
          { degrees: 0, weight: 0 },
          { degrees: 80, weight: 1 },
        ],
        [0, 0],
        20,
      ),
    ).toBeCloseTo(3 * 0.25 ** 2 - 2 * 0.25 ** 3, 12));
});

describe("a direction", () => {
  const term: DriverTerm = {
    kind: "direction",
    joint: "lower",
    along: Y,
    towards: X,
    fullDegrees: 20,
    noneDegrees: 60,
  };
  const one = driven({ poseDrivers: [driver([term])] });
  it.each([
    [90, 1],
    [70, 1],
    [50, 0.5],
    [30, 0],
    [0, 0],
  ])("swung by %d degrees towards it counts %d", (deg, weight) =>
    expect(weightsAt(one, at({ lower: fromAxisAngle(Z, -deg) }))[0]).toBeCloseTo(weight, 5),
  );
  it("leaves the twist out, or keeps to its limits", () => {
    const raised = fromAxisAngle(Z, -90);
    const limited = driven({
      poseDrivers: [driver([{ ...term, twist: { fromDegrees: -10, toDegrees: 10, fadeDegrees: 40 } }])],
    });
    for (const [twist, weight] of [
      [0, 1],
      [9, 1],
      [30, 0.5],
      [60, 0],
    ] as const) {
      const turn = multiplyQuat(raised, fromAxisAngle(Y, twist));
      expect(weightsAt(one, at({ lower: turn }))[0]).toBeCloseTo(1, 5);
      expect(weightsAt(limited, at({ lower: turn }))[0]).toBeCloseTo(weight, 5);
    }
  });
  it("measures the angle between two directions, also when they are opposite", () => {
    expect(degreesOff({ along: Y, towards: Y }, fromAxisAngle(X, 180))).toBeCloseTo(180, 9);
    expect(degreesOff({ along: Y, towards: Y }, fromAxisAngle(X, 1e-4))).toBeCloseTo(1e-4, 12);
  });
});

describe("several readings together", () => {
  const bend: DriverTerm = {
    kind: "angle",
    joint: "lower",
    axis: X,
    points: [
      { degrees: 0, weight: 0 },
      { degrees: 100, weight: 1 },
    ],
    between: "straight",
  };
  const effort: DriverTerm = { kind: "weight", shape: "effort", atNone: 0.2 };
  const bent = (deg: number, change: Partial<Moment> = {}): Moment => at({ lower: fromAxisAngle(X, deg) }, change);
  it.each([
    ["product", 50, 0.5, 0.5 * 0.6],
    ["product", 100, 1, 1],
    ["product", 100, 0, 0.2],
    ["least", 50, 1, 0.5],
    ["least", 80, 0.25, 0.4],
  ] as const)("%s of %d degrees and an effort of %d is %d", (rule, deg, set, weight) =>
    expect(
      weightsAt(
        driven({ poseDrivers: [driver([bend, effort], { rule })] }),
        bent(deg, { weights: { effort: set } }),
      )[0],
    ).toBeCloseTo(weight, 5),
  );
  it("is scaled, switched off by itself, with its group, and with all drivers", () => {
    const own = (change: Partial<PoseDriver>, moment: Partial<Moment> = {}): number =>
      weightsAt(driven({ poseDrivers: [driver([bend], { group: "muscle", ...change })] }), bent(50, moment))[0]!;
    expect(own({ intensity: 1.5 })).toBeCloseTo(0.75, 5);
    expect(own({ enabled: false })).toBe(0);
    expect(own({}, { off: ["muscle"] })).toBe(0);
    expect(own({}, { off: ["corrective"] })).toBeCloseTo(0.5, 5);
    expect(own({}, { drivers: false })).toBe(0);
  });
});

describe("sampled poses", () => {
  const turns: Quat[] = [
    fromAxisAngle(X, 90),
    fromAxisAngle(Z, 80),
    fromAxisAngle(normalize([1, 0, 1]), 70),
    multiplyQuat(fromAxisAngle(X, 60), fromAxisAngle(Y, 50)),
    fromAxisAngle(X, -45),
  ];
  const set = (change: Partial<SampleSet> = {}): SampleSet => ({
    name: "swing",
    joints: [{ joint: "lower", along: Y }],
    samples: turns.map((q, i) => ({ name: `pose ${i}`, shape: null, turns: [q] })),
    kernel: "gaussian",
    radiusDegrees: 50,
    twistShare: 0.5,
    group: "corrective",
    enabled: true,
    ...change,
  });
  describe.each(SAMPLE_KERNELS)("by the %s kernel", (kernel) => {
    const ready = readySamples(set({ kernel }))!;
    it("give each sample, and rest, its own shape alone", () => {
      expect(ready.weightsAt([[0, 0, 0, 1]])[0]).toBeCloseTo(1, 9);
      turns.forEach((q, i) => {
        const w = ready.weightsAt([q]);
        w.forEach((x, k) => expect(x).toBeCloseTo(k === i + 1 ? 1 : 0, 9));
      });
    });
    it("never go below 0 or above 1, and add up to 1 in any pose", () =>
      fc.assert(
        fc.property(anyTurn, (q) => {
          const w = ready.weightsAt([q]);
          expect(w.every((x) => x >= 0 && x <= 1) && Math.abs(w.reduce((a, b) => a + b, 0) - 1) < 1e-9).toBe(true);
        }),
      ));
    it("change little where the pose changes little", () =>
      fc.assert(
        fc.property(anyTurn, anyTurn, (q, by) => {
          const a = ready.weightsAt([q]);
          const b = ready.weightsAt([multiplyQuat(q, fromAxisAngle(normalize([by[0], by[1], by[2] + 1e-9]), 0.05))]);
          expect(a.every((x, i) => Math.abs(x - b[i]!) < 0.02)).toBe(true);
        }),
      ));
  });
  it("fade to the nearest where no kernel reaches", () => {
    const w = readySamples(set({ kernel: "compact", radiusDegrees: 10 }))!.weightsAt([fromAxisAngle(X, 140)]);
    expect(w.indexOf(Math.max(...w))).toBe(1);
    expect(w[1]).toBeGreaterThan(0.6);
  });
  it("count the twist by its share alone", () => {
    const twisted = multiplyQuat(turns[0]!, fromAxisAngle(Y, 70));
    expect(
      readySamples(set({ twistShare: 0, samples: set().samples.slice(0, 3) }))!.weightsAt([twisted])[1],
    ).toBeCloseTo(1, 9);
    expect(
      readySamples(set({ twistShare: 1, samples: set().samples.slice(0, 3) }))!.weightsAt([twisted])[1],
    ).toBeLessThan(0.9);
  });
  it("are refused where two stand in one pose, or one at rest", () => {
    const twice = [...set().samples, { name: "again", shape: null, turns: [turns[0]!] }];
    expect(readySamples(set({ samples: twice }))).toBeNull();
    expect(readySamples(set({ samples: [{ name: "rest", shape: null, turns: [[0, 0, 0, 1]] }] }))).toBeNull();
  });
  it("of two joints together know a pose of both", () => {
    const both = driven({
      sampleSets: [
        set({
          joints: [
            { joint: "upper", along: Y },
            { joint: "lower", along: Y },
          ],
          samples: [
            { name: "both", shape: "bulge", turns: [turns[0]!, turns[0]!] },
            { name: "one", shape: "aside", turns: [turns[0]!, [0, 0, 0, 1]] },
          ],
        }),
      ],
    });
    const w = weightsAt(both, at({ upper: turns[0]!, lower: turns[0]! }));
    expect([...w]).toEqual([expect.closeTo(1, 5), expect.closeTo(0, 5), 0]);
    expect(weightsAt(both, at({ upper: turns[0]! }))[1]).toBeCloseTo(1, 5);
    expect(weightsAt(both, at({ lower: turns[0]! }))[0]).toBeLessThan(0.6);
  });
  it("read where the bone points whatever its axis in the joint's frame", () => {
    const tilt = fromAxisAngle(normalize([0.3, 0.2, 0.9]), 77);
    const turned = (q: Quat): Quat => [...rotate(tilt, [q[0], q[1], q[2]]), q[3]];
    const other = set({
      joints: [{ joint: "lower", along: rotate(tilt, Y) }],
      samples: set().samples.map((s) => ({ ...s, turns: s.turns.map(turned) })),
      twistShare: 0,
    });
    const [a, b] = [readySamples(set({ twistShare: 0 }))!, readySamples(other)!];
    fc.assert(
      fc.property(anyTurn, (q) => {
        const w = b.weightsAt([turned(q)]);
        expect(a.weightsAt([q]).every((x, i) => Math.abs(x - w[i]!) < 1e-9)).toBe(true);
      }),
    );
  });
});
