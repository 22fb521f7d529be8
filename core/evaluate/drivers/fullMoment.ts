import { multiplyQuat, toEulerXYZ, fromAxisAngle, IDENTITY_QUAT } from "../../math/quat";
import type { Quat } from "../../math/vec3";
import type { Character, Driver } from "../../model/character";
import type { PoseDriver, SampleSet } from "../../model/poseDriver";
import { kindOf } from "../../model/terms/driverTerms";
import type { Pose } from "../poseSkeleton";

/** A moment at which a shape that the pose drives is at its most: angles of joints, and weights that it waits for. */
export interface FullMoment {
  readonly shape: string;
  readonly pose: Pose;
  readonly weights: Readonly<Record<string, number>>;
  /** Whether what drives it is switched on. */
  readonly enabled: boolean;
}

/** The moments at which shapes are at their most, in the order in which the shapes were made. */
export function fullMoments({ shapes, drivers, poseDrivers = [], sampleSets = [] }: Character): FullMoment[] {
  const all = [...drivers.map(ofTurn), ...poseDrivers.map(ofTerms), ...sampleSets.flatMap(ofSamples)];
  const made = new Map(shapes.map((s, i) => [s.name, i]));
  return all.sort((a, b) => (made.get(a.shape) ?? 0) - (made.get(b.shape) ?? 0));
}

/** Where a shape is at its most by what drives it; null where no pose does. */
export const fullMoment = (character: Character, shape: string): FullMoment | null =>
  fullMoments(character).find((m) => m.shape === shape) ?? null;

const ofTurn = ({ shape, joint, axis, toDegrees, enabled }: Driver): FullMoment => ({
  shape,
  pose: { [joint]: toEulerXYZ(fromAxisAngle(axis, toDegrees)) },
  weights: {},
  enabled,
});

/** Each term at its most, turns of one joint one after the other; what several ask of it may differ. */
function ofTerms({ shape, terms, enabled }: PoseDriver): FullMoment {
  const turns = new Map<string, Quat>();
  const weights: Record<string, number> = {};
  for (const term of terms) {
    const most = kindOf(term).atMost(term);
    if ("shape" in most) weights[most.shape] = most.weight;
    else turns.set(most.joint, multiplyQuat(turns.get(most.joint) ?? IDENTITY_QUAT, most.turn));
  }
  const pose = Object.fromEntries([...turns].map(([joint, q]) => [joint, toEulerXYZ(q)]));
  return { shape, pose, weights, enabled };
}

const ofSamples = ({ joints, samples, enabled }: SampleSet): FullMoment[] =>
  samples.flatMap(({ shape, turns }) => {
    if (shape === null) return [];
    const pose = Object.fromEntries(joints.map(({ joint }, i) => [joint, toEulerXYZ(turns[i]!)]));
    return [{ shape, pose, weights: {}, enabled }];
  });
