import { multiplyQuat, toEulerXYZ, fromAxisAngle, IDENTITY_QUAT } from "../../math/quat";
import type { Quat } from "../../math/vec3";
import type { Character } from "../../model/character";
import type { PoseDriver } from "../../model/poseDriver";
import { kindOf } from "../../model/terms/driverTerms";
import type { Pose } from "../poseSkeleton";

/** A moment at which a shape that the pose drives is at its most. */
export interface FullMoment {
  readonly pose: Pose;
  readonly weights: Readonly<Record<string, number>>;
}

/** Where a shape is at its most by what drives it; null where no pose does. */
export function fullMoment(character: Character, shape: string): FullMoment | null {
  const turn = character.drivers.find((d) => d.shape === shape);
  if (turn) return { pose: { [turn.joint]: toEulerXYZ(fromAxisAngle(turn.axis, turn.toDegrees)) }, weights: {} };
  const read = character.poseDrivers?.find((d) => d.shape === shape);
  if (read) return fullOfTerms(read);
  const set = character.sampleSets?.find((s) => s.samples.some((x) => x.shape === shape));
  const sample = set?.samples.find((x) => x.shape === shape);
  if (!set || !sample) return null;
  return {
    pose: Object.fromEntries(set.joints.map(({ joint }, i) => [joint, toEulerXYZ(sample.turns[i]!)])),
    weights: {},
  };
}

/** Each term at its most, turns of one joint one after the other; what several ask of it may differ. */
function fullOfTerms({ terms }: PoseDriver): FullMoment {
  const turns = new Map<string, Quat>();
  const weights: Record<string, number> = {};
  for (const term of terms) {
    const most = kindOf(term).atMost(term);
    if ("shape" in most) weights[most.shape] = most.weight;
    else turns.set(most.joint, multiplyQuat(turns.get(most.joint) ?? IDENTITY_QUAT, most.turn));
  }
  return { pose: Object.fromEntries([...turns].map(([joint, q]) => [joint, toEulerXYZ(q)])), weights };
}
