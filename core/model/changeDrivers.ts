import type { Quat, Vec3 } from "../math/vec3";
import type { Character } from "./character";
import type { DriverTerm, PoseDriver, SampleSet } from "./poseDriver";

/** What becomes of what a driver reads at one joint. */
export interface JointChange {
  /** The joint's name afterwards. */
  readonly joint: string;
  /** Axes about which it turns. */
  readonly axis: (v: Vec3) => Vec3;
  /** The way its bone points, in its own frame. */
  readonly along: (v: Vec3) => Vec3;
  /** Where its bone has to point, in its frame at rest. */
  readonly towards: (v: Vec3) => Vec3;
  /** A turn away from rest. */
  readonly turn: (q: Quat) => Quat;
  /** Degrees to be taken from the angles of a curve about an axis (as it was before). */
  readonly already: (axis: Vec3) => number;
}

const same = <T>(x: T): T => x;
export const UNCHANGED: Omit<JointChange, "joint"> = {
  axis: same,
  along: same,
  towards: same,
  turn: same,
  already: () => 0,
};

function changedTerm(term: DriverTerm, of: (joint: string) => JointChange): DriverTerm {
  if (term.kind === "weight") return term;
  const to = of(term.joint);
  if (term.kind === "direction")
    return { ...term, joint: to.joint, along: to.along(term.along), towards: to.towards(term.towards) };
  const less = to.already(term.axis);
  return {
    ...term,
    joint: to.joint,
    axis: to.axis(term.axis),
    points: less === 0 ? term.points : term.points.map((p) => ({ ...p, degrees: p.degrees - less })),
  };
}

export const changedDriver = (driver: PoseDriver, of: (joint: string) => JointChange): PoseDriver => ({
  ...driver,
  terms: driver.terms.map((t) => changedTerm(t, of)),
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

const renamedTerm = (term: DriverTerm, to: (shape: string) => string): DriverTerm =>
  term.kind === "weight" ? { ...term, shape: to(term.shape) } : term;

/** With shapes under other names. */
export const ofRenamedShapes = (character: PoseDrivers, to: (shape: string) => string): PoseDrivers =>
  mapPoseDrivers(
    character,
    (d) => ({ ...d, shape: to(d.shape), terms: d.terms.map((t) => renamedTerm(t, to)) }),
    (s) => ({ ...s, samples: s.samples.map((x) => ({ ...x, shape: x.shape === null ? null : to(x.shape) })) }),
  );

/** Sampled poses of which one keeps its pose and has no shape any more. */
export const withoutSampled = (set: SampleSet, shape: string): SampleSet => ({
  ...set,
  samples: set.samples.map((x) => (x.shape === shape ? { ...x, shape: null } : x)),
});

/** Without a shape: what sets it goes, what reads it goes, and a sample keeps its pose with no shape. */
export function withoutShapeDriven({ poseDrivers, sampleSets }: PoseDrivers, name: string): PoseDrivers {
  const reads = (d: PoseDriver): boolean => d.terms.some((t) => t.kind === "weight" && t.shape === name);
  return {
    ...(poseDrivers ? { poseDrivers: poseDrivers.filter((d) => d.shape !== name && !reads(d)) } : {}),
    ...(sampleSets ? { sampleSets: sampleSets.map((s) => withoutSampled(s, name)) } : {}),
  };
}
