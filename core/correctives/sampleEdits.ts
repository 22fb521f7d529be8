import { readySamples } from "../evaluate/drivers/sampleWeights";
import { poseRotation, type Pose } from "../evaluate/poseSkeleton";
import { angleBetweenQuats } from "../math/quat";
import type { Quat } from "../math/vec3";
import type { Character, ShapeDelta } from "../model/character";
import { shapeNamed } from "../model/character";
import type { PoseSample, SampleSet, SampledJoint } from "../model/poseDriver";
import { UserError } from "../model/userError";
import { mixShapes } from "../shapes/mixShapes";

/** Sampled poses as they begin: none but rest. */
export const newSamples = (name: string, joints: readonly SampledJoint[]): SampleSet => ({
  name,
  joints,
  samples: [],
  kernel: "gaussian",
  radiusDegrees: 60,
  twistShare: 0.5,
  group: "corrective",
  enabled: true,
});

/** Turns of a set's joints in a pose. */
export const turnsIn = (set: Pick<SampleSet, "joints">, pose: Pose): Quat[] =>
  set.joints.map(({ joint }) => poseRotation(pose, joint));

/** Degrees by which two poses of a set's joints are apart, the farthest joint's. */
const apart = (a: readonly Quat[], b: readonly Quat[]): number =>
  a.reduce((most, q, i) => Math.max(most, angleBetweenQuats(q, b[i]!)), 0);

/** Poses nearer than this, degrees, are one. */
const SAME_POSE = 3;

/**
 * A set with the present pose sampled. Its shape moves as the set does there already, so that nothing changes in this
 * pose until it is sculpted; the radius becomes the middle distance of neighbouring samples.
 * @throws UserError near rest or near a sample.
 */
export function withSample(
  character: Character,
  set: SampleSet,
  pose: Pose,
  names: { readonly sample: string; readonly shape: string | null },
): { readonly set: SampleSet; readonly deltas: readonly ShapeDelta[] } {
  const turns = turnsIn(set, pose);
  const rest = turns.map((): Quat => [0, 0, 0, 1]);
  if (apart(turns, rest) < SAME_POSE)
    throw new UserError("The joint stands at rest, which is one of the poses already.", set.name, "Turn it first.");
  const near = set.samples.find((s) => apart(s.turns, turns) < SAME_POSE);
  if (near)
    throw new UserError(`This pose is sampled already, as ${near.name}.`, set.name, "Sculpt that one again instead.");
  const weights = readySamples(set)?.weightsAt(turns);
  const deltas = mixShapes(
    set.samples.flatMap((s, i) => {
      const shape = s.shape === null ? undefined : shapeNamed(character, s.shape);
      return shape && weights ? [[shape, weights[i + 1]!] as const] : [];
    }),
  );
  const sample: PoseSample = { name: names.sample, shape: names.shape, turns };
  return { set: withRadius({ ...set, samples: [...set.samples, sample] }), deltas };
}

/** A set without one of its samples. */
export const withoutSample = (set: SampleSet, name: string): SampleSet =>
  withRadius({ ...set, samples: set.samples.filter((s) => s.name !== name) });

/** The radius that the poses themselves ask for: the median distance of each from its nearest, degrees. */
export function withRadius(set: SampleSet): SampleSet {
  const all = [...set.samples.map((s) => s.turns), set.joints.map((): Quat => [0, 0, 0, 1])];
  const nearest = all
    .map((a, i) => Math.min(...all.flatMap((b, k) => (k === i ? [] : [apart(a, b)]))))
    .filter(Number.isFinite)
    .sort((a, b) => a - b);
  const middle = nearest[nearest.length >> 1];
  return middle === undefined ? set : { ...set, radiusDegrees: Math.round(Math.min(120, Math.max(20, middle))) };
}
