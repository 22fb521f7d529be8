import { readySamples } from "../../core/evaluate/drivers/sampleWeights";
import { fromAxisAngle } from "../../core/math/quat";
import { normalize, type Quat, type Vec3 } from "../../core/math/vec3";
import { SAMPLE_KERNELS, type SampleKernel } from "../../core/model/poseDriver";

/**
 * Radial basis functions over poses against numpy (2.4.6, linalg.solve) in `rbfPoses.py` beside this file, which turns
 * by Rodrigues' formula and shares no code with ours. What ours leans on the nearest sample is a thousandth before all
 * are brought to a sum of 1.
 */
type Turn = readonly [axis: Vec3, degrees: number];
const SAMPLES: readonly Turn[] = [
  [[1, 0, 0], 90],
  [[0, 0, 1], -70],
  [[1, 0, 1], 50],
  [[0, 1, 0], 60],
];
const ASKED: readonly Turn[] = [
  [[1, 0, 0], 45],
  [[1, 0, 0.4], 70],
  [[0, 1, 0], 25],
  [[0.3, 0.2, -1], 60],
  [[1, 1, 1], 33],
];
/** Printed by `rbfPoses.py`: of rest and of the four samples, for each pose asked. */
const NUMPY: Readonly<Record<SampleKernel, readonly (readonly number[])[]>> = {
  gaussian: [
    [0.236187, 0.298534, 0.052654, 0.404869, 0.007756],
    [0, 0.45721, 0.003266, 0.539523, 0],
    [0.588371, 0, 0, 0, 0.411629],
    [0.091226, 0.053601, 0.797906, 0, 0.057267],
    [0.279819, 0, 0, 0.506173, 0.214008],
  ],
  compact: [
    [0.063105, 0.061541, 0, 0.875354, 0],
    [0, 0.441977, 0, 0.557966, 5.7e-5],
    [0.60488, 0, 0, 0, 0.39512],
    [0, 0, 1, 0, 0],
    [0.340768, 0, 0, 0.524078, 0.135154],
  ],
  linear: [
    [0.216279, 0.305471, 0.055036, 0.361383, 0.061832],
    [0, 0.481019, 0, 0.503638, 0.015343],
    [0.566768, 0, 0.008343, 0.021596, 0.403293],
    [0.095484, 0.083119, 0.732809, 0, 0.088588],
    [0.29197, 0.025606, 0, 0.450785, 0.231639],
  ],
};
const turn = ([axis, degrees]: Turn): Quat => fromAxisAngle(normalize(axis), degrees);

it.each(SAMPLE_KERNELS)("weights of sampled poses are those that numpy solves: %s", (kernel) => {
  const ready = readySamples({
    joints: [{ joint: "arm", along: [0, 1, 0] }],
    samples: SAMPLES.map((s, i) => ({ name: `${i}`, shape: null, turns: [turn(s)] })),
    kernel,
    radiusDegrees: 60,
    twistShare: 0.5,
  })!;
  expect(ASKED.length).toBe(NUMPY[kernel].length);
  ASKED.forEach((asked, i) => {
    const weights = ready.weightsAt([turn(asked)]);
    NUMPY[kernel][i]!.forEach((w, k) => expect(Math.abs(weights[k]! - w)).toBeLessThan(5e-3));
  });
});
