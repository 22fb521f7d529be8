import { poseRotation, type Pose } from "~core/evaluate/poseSkeleton";
import { fromAxisAngle, multiplyQuat, toEulerXYZ, twistDegrees } from "~core/math/quat";
import type { Vec3 } from "~core/math/vec3";
import type { JointMotion } from "~core/skeleton/jointMotions";
import type { SessionStore } from "./session";

/** Turn of the pose along a motion, whole degrees. */
export const angleAlong = (motion: JointMotion, pose: Pose): number =>
  Math.round(twistDegrees(poseRotation(pose, motion.joint), motion.axis)) + 0;

/**
 * Pose with one motion set to an angle, the joint's turn about other axes kept; what must be out of the way goes and
 * comes back with it.
 */
export function withMotion(pose: Pose, motion: JointMotion, degrees: number): Pose {
  const { aside } = motion;
  if (!aside || (degrees >= 0 && angleAlong(motion, pose) >= 0)) return turned(pose, motion, degrees);
  return turned(turned(pose, aside, degrees < 0 ? aside.share * degrees : 0), motion, degrees);
}

function turned(pose: Pose, motion: Pick<JointMotion, "joint" | "axis">, degrees: number): Pose {
  const now = poseRotation(pose, motion.joint);
  const off = fromAxisAngle(motion.axis, -twistDegrees(now, motion.axis));
  const rest = multiplyQuat(now, off);
  const angles = toEulerXYZ(multiplyQuat(rest, fromAxisAngle(motion.axis, degrees))).map(
    (x) => Number(x.toFixed(3)) + 0,
  ) as unknown as Vec3;
  const { [motion.joint]: _old, ...others } = pose;
  return angles.every((x) => x === 0) ? others : { ...others, [motion.joint]: angles };
}

/** Moves the stage to an angle of a motion and makes its joint the measured one. */
export function poseMotion(store: SessionStore, motion: JointMotion, degrees: number): void {
  const angle = Math.min(motion.max, Math.max(motion.min, degrees));
  store.setState((s) => (s.sculpt ? {} : { pose: withMotion(s.pose, motion, angle), joint: motion.joint }));
}
