import type { Character } from "./character";
import type { PoseDriver, SampleSet } from "./poseDriver";
import { kindOf, shapeRead } from "./terms/driverTerms";
import { UNCHANGED, type JointChange } from "./terms/jointChange";

export const changedDriver = (driver: PoseDriver, of: (joint: string) => JointChange): PoseDriver => ({
  ...driver,
  terms: driver.terms.map((t) => kindOf(t).changed(t, of)),
});

export function changedSamples(set: SampleSet, of: (joint: string) => JointChange): SampleSet {
  const to = set.joints.map(({ joint }) => of(joint));
  return {
    ...set,
    joints: set.joints.map(({ along }, i) => ({ joint: to[i]!.joint, along: to[i]!.along(along) })),
    samples: set.samples.map((s) => ({ ...s, turns: s.turns.map((q, i) => to[i]!.turn(q)) })),
  };
}

type PoseDrivers = Pick<Character, "poseDrivers" | "sampleSets">;
type AtJoints = PoseDrivers & Pick<Character, "twistJoints">;

/** The drivers of a character's poses, each changed; to be spread over the character. */
export const mapPoseDrivers = (
  { poseDrivers, sampleSets }: PoseDrivers,
  driver: (d: PoseDriver) => PoseDriver,
  set: (s: SampleSet) => SampleSet,
): PoseDrivers => ({
  ...(poseDrivers ? { poseDrivers: poseDrivers.map(driver) } : {}),
  ...(sampleSets ? { sampleSets: sampleSets.map(set) } : {}),
});

/** With what they read at joints changed, and joints that share a twist. */
export const atChangedJoints = (character: AtJoints, of: (joint: string) => JointChange): AtJoints => ({
  ...mapPoseDrivers(
    character,
    (d) => changedDriver(d, of),
    (s) => changedSamples(s, of),
  ),
  ...(character.twistJoints
    ? {
        twistJoints: character.twistJoints.map((t) => {
          const [own, other] = [of(t.joint), of(t.of)];
          return { ...t, joint: own.joint, of: other.joint, about: own.axis(t.about), axis: other.axis(t.axis) };
        }),
      }
    : {}),
});

/** With joints under other names. */
export const atRenamedJoints = (character: AtJoints, to: (joint: string) => string): AtJoints =>
  atChangedJoints(character, (joint) => ({ ...UNCHANGED, joint: to(joint) }));

/** With shapes under other names. */
export const ofRenamedShapes = (character: PoseDrivers, to: (shape: string) => string): PoseDrivers =>
  mapPoseDrivers(
    character,
    (d) => ({ ...d, shape: to(d.shape), terms: d.terms.map((t) => kindOf(t).renamed(t, to)) }),
    (s) => ({ ...s, samples: s.samples.map((x) => ({ ...x, shape: x.shape === null ? null : to(x.shape) })) }),
  );

/** Sampled poses of which one keeps its pose and has no shape any more. */
export const withoutSampled = (set: SampleSet, shape: string): SampleSet => ({
  ...set,
  samples: set.samples.map((x) => (x.shape === shape ? { ...x, shape: null } : x)),
});

/** Without a shape: what sets it goes, what reads it goes, and a sample keeps its pose with no shape. */
export function withoutShapeDriven({ poseDrivers, sampleSets }: PoseDrivers, name: string): PoseDrivers {
  const reads = (d: PoseDriver): boolean => d.terms.some((t) => shapeRead(t) === name);
  return {
    ...(poseDrivers ? { poseDrivers: poseDrivers.filter((d) => d.shape !== name && !reads(d)) } : {}),
    ...(sampleSets ? { sampleSets: sampleSets.map((s) => withoutSampled(s, name)) } : {}),
  };
}
