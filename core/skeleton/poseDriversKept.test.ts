import fc from "fast-check";
import { shapeOf, skeletonOf, tube } from "../../tests/helpers/characters";
import { mirrorPoseDriver, mirrorSamples } from "../correctives/mirrorCorrective";
import { renameThings } from "../edits/names/renameThings";
import { weightsAt } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { applySteps } from "../ledger/applyStep";
import { compareReadBack } from "../ledger/handOff";
import type { Step } from "../ledger/steps";
import { composeTRS } from "../math/mat4";
import { conjugate, fromAxisAngle, multiplyQuat, rotate, toEulerXYZ } from "../math/quat";
import { normalize, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character } from "../model/character";
import type { PoseDriver, SampleSet } from "../model/poseDriver";
import { withoutShape } from "../model/withoutShape";
import { changeRest } from "./changeRest";
import { rearrangeJoints } from "./rearrangeJoints";
import { rebind } from "./rebind";
import { renameJoints } from "./renameJoints";

const coordinate = fc.double({ min: -1, max: 1, noNaN: true });
const anyTurn = fc
  .tuple(coordinate, coordinate, coordinate, fc.double({ min: -120, max: 120, noNaN: true }))
  .filter(([x, y, z]) => Math.hypot(x, y, z) > 0.1)
  .map(([x, y, z, deg]): Quat => fromAxisAngle(normalize([x, y, z]), deg));

const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const driverOf = (joint: string, shape = "bulge"): PoseDriver => ({
  shape,
  terms: [
    {
      kind: "direction",
      joint,
      along: Y,
      towards: normalize([1, 0.2, 0.4]),
      fullDegrees: 15,
      noneDegrees: 100,
      twist: { fromDegrees: -30, toDegrees: 40, fadeDegrees: 60 },
    },
    { kind: "weight", shape: "effort", atNone: 0.5 },
  ],
  rule: "product",
  group: "muscle",
  intensity: 1,
  enabled: true,
});
const setOf = (joint: string, shape = "fold", name = "swing_left"): SampleSet => ({
  name,
  joints: [{ joint, along: Y }],
  samples: [
    { name: "forward", shape, turns: [fromAxisAngle(X, 70)] },
    { name: "twisted", shape: null, turns: [multiplyQuat(fromAxisAngle(X, 50), fromAxisAngle(Y, 60))] },
  ],
  kernel: "gaussian",
  radiusDegrees: 60,
  twistShare: 0.7,
  group: "corrective",
  enabled: true,
});
const limb: Character = {
  ...tube({ rings: 9, sides: 6 }),
  shapes: ["bulge", "fold", "effort"].map((name) => shapeOf(name, { 3: [0.01, 0, 0] })),
  poseDrivers: [driverOf("lower")],
  sampleSets: [setOf("lower")],
};
/** Weights of all shapes with one joint turned, an effort set. */
const weights = (c: Character, joint: string, q: Quat): number[] => [
  ...weightsAt(c, { ...REST_MOMENT, pose: { [joint]: toEulerXYZ(q) }, weights: { effort: 0.4 } }),
];
const near = (a: readonly number[], b: readonly number[]): void => a.forEach((x, i) => expect(x).toBeCloseTo(b[i]!, 4));

describe("drivers of a pose say the same", () => {
  it("after joints and shapes have other names", () => {
    const joints = renameJoints(limb, new Map([["lower", "elbow"]]));
    const all = renameThings(
      joints,
      "shapes",
      new Map([
        ["bulge", "biceps"],
        ["effort", "force"],
      ]),
    );
    fc.assert(
      fc.property(anyTurn, (q) =>
        near(
          [...weightsAt(all, { ...REST_MOMENT, pose: { elbow: toEulerXYZ(q) }, weights: { force: 0.4 } })],
          weights(limb, "lower", q),
        ),
      ),
      { numRuns: 20 },
    );
  });
  it("after a joint's frame is turned at rest", () => {
    const by = fromAxisAngle(normalize([0.4, 1, -0.3]), 66);
    const rest = worldMatrices(limb.skeleton!, {});
    const lower = limb.skeleton!.joints.findIndex((j) => j.name === "lower");
    const m = rest.subarray(16 * lower, 16 * lower + 16);
    composeTRS(m, 0, [m[12]!, m[13]!, m[14]!], multiplyQuat(limb.skeleton!.joints[lower]!.rotation, by), [1, 1, 1]);
    const turned = changeRest(limb, rest);
    fc.assert(
      fc.property(anyTurn, (q) =>
        near(weights(turned, "lower", multiplyQuat(multiplyQuat(conjugate(by), q), by)), weights(limb, "lower", q)),
      ),
      { numRuns: 20 },
    );
  });
  it("after the mesh is bound anew in a pose, sampled poses being met as before", () => {
    const pose = fromAxisAngle(X, 25);
    const bound = rebind(limb, { lower: toEulerXYZ(pose) });
    const [fold] = bound.sampleSets![0]!.samples;
    expect(bound.sampleSets![0]!.samples.map((s) => s.name)).toEqual(["forward", "twisted", "rest before"]);
    near(weights(bound, "lower", fold!.turns[0]!), weights(limb, "lower", fromAxisAngle(X, 70)));
    near(weights(bound, "lower", conjugate(pose)).slice(1), weights(limb, "lower", [0, 0, 0, 1]).slice(1));
    const only = (c: Character): Character => ({
      ...c,
      sampleSets: [],
      poseDrivers: [
        {
          ...driverOf("lower"),
          terms: c.poseDrivers![0]!.terms.map((t) =>
            t.kind === "direction" ? { ...t, twist: { fromDegrees: -180, toDegrees: 180, fadeDegrees: 0 } } : t,
          ),
        },
      ],
    });
    fc.assert(
      fc.property(anyTurn, (q) =>
        near(weights(only(bound), "lower", multiplyQuat(conjugate(pose), q)), weights(only(limb), "lower", q)),
      ),
      { numRuns: 20 },
    );
  });
  it("after a hand-off as GLB", async () => {
    const again = await readGlb(await writeGlb(limb), "limb.glb");
    expect(await compareReadBack(limb, again)).toMatchObject({ drivers: true, differences: [] });
    expect([again.poseDrivers, again.sampleSets]).toEqual([limb.poseDrivers, limb.sampleSets]);
    const changed = { ...limb, sampleSets: [{ ...setOf("lower"), radiusDegrees: 61 }] };
    expect((await compareReadBack(changed, again)).differences.join()).toMatch(/swing_left/);
  });
});

it("on the other side of a figure they say for the mirrored pose what they say for the pose", () => {
  const tilt = fromAxisAngle(normalize([0.2, 0.3, 0.9]), 40);
  const skeleton = skeletonOf([
    { name: "hips", parent: NO_JOINT, translation: [0, 1, 0] },
    { name: "leftUpperLeg", parent: 0, translation: [0.1, -0.1, 0] },
    { name: "rightUpperLeg", parent: 0, translation: [-0.1, -0.1, 0] },
  ]);
  const figure: Character = {
    ...limb,
    skeleton: {
      ...skeleton,
      joints: skeleton.joints.map((j) => (j.name === "rightUpperLeg" ? { ...j, rotation: tilt } : j)),
    },
    jointMap: { hips: "hips", leftUpperLeg: "leftUpperLeg", rightUpperLeg: "rightUpperLeg" },
    shapes: ["bulge_left", "bulge_right", "fold_left", "fold_right", "effort"].map((n) => shapeOf(n, { 0: X })),
    poseDrivers: [driverOf("leftUpperLeg", "bulge_left")],
    sampleSets: [setOf("leftUpperLeg", "fold_left")],
  };
  const both: Character = {
    ...figure,
    poseDrivers: [...figure.poseDrivers!, mirrorPoseDriver(figure, figure.poseDrivers![0]!)],
    sampleSets: [...figure.sampleSets!, mirrorSamples(figure, figure.sampleSets![0]!)],
  };
  expect(both.sampleSets![1]).toMatchObject({ name: "swing_right", joints: [{ joint: "rightUpperLeg" }] });
  fc.assert(
    fc.property(anyTurn, (q) => {
      // the left leg's frame is the figure's own; over x = 0 a turn is mirrored as an axial vector
      const mirrored: Quat = [...rotate(conjugate(tilt), [q[0], -q[1], -q[2]]), q[3]];
      const left = weights(both, "leftUpperLeg", q);
      const right = weights(both, "rightUpperLeg", mirrored);
      near([left[0]!, left[2]!], [right[1]!, right[3]!]);
    }),
    { numRuns: 30 },
  );
});

describe("what they need", () => {
  it("goes with a shape that is taken out, and a sampled pose stays", () => {
    expect(withoutShape(limb, "effort").poseDrivers).toEqual([]);
    const without = withoutShape(limb, "fold");
    expect(without.sampleSets![0]!.samples.map((s) => s.shape)).toEqual([null, null]);
    expect(without.poseDrivers).toHaveLength(1);
  });
  it("is a joint that may not be taken out", () =>
    expect(() =>
      rearrangeJoints(limb, {
        kept: (j) => limb.skeleton!.joints[j]!.name !== "lower",
        parent: (j) => limb.skeleton!.joints[j]!.parent,
      }),
    ).toThrow(/lower drives bulge/));
  it.each<[string, Step]>([
    [
      "There is no joint named knee.",
      { op: "drive by pose", items: [{ name: "bulge", driver: { ...driverOf("knee"), terms: [...plain("knee")] } }] },
    ],
    [
      "fold is the shape of one of the sampled poses swing_left.",
      { op: "drive by pose", items: [{ name: "fold", driver: { ...driverOf("lower"), terms: [...plain("lower")] } }] },
    ],
    [
      "bulge cannot set itself.",
      {
        op: "drive by pose",
        items: [
          { name: "bulge", driver: { ...driverOf("lower"), terms: [{ kind: "weight", shape: "bulge", atNone: 0 }] } },
        ],
      },
    ],
  ])("is asked for: %s", (message, step) => {
    expect(() => applySteps(limb, [step], () => undefined)).toThrow(message);
  });
});

/** One direction at a joint. */
function plain(
  joint: string,
): {
  kind: "direction";
  joint: string;
  along: [number, number, number];
  towards: [number, number, number];
  fullDegrees: number;
  noneDegrees: number;
}[] {
  return [{ kind: "direction", joint, along: [0, 1, 0], towards: [1, 0, 0], fullDegrees: 10, noneDegrees: 50 }];
}
