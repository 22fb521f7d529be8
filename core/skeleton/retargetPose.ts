import { worldMatrices, type Pose } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { conjugate, multiplyQuat, toEulerXYZ } from "../math/quat";
import type { Quat } from "../math/vec3";
import { NO_JOINT, type Skeleton } from "../model/character";

/** By joint, how a pose turns it in space away from rest: the same whatever frame the joint has. */
export type SpaceTurns = Readonly<Record<string, Quat>>;

const NONE: Quat = [0, 0, 0, 1];
const LEAST = 1e-6;
const turnsOfFrames = (skeleton: Skeleton, pose: Pose): Quat[] => {
  const world = worldMatrices(skeleton, pose);
  return skeleton.joints.map((_, j) => decomposeTRS(world, 16 * j).q);
};

/** A pose as turns in space; joints that stand as at rest are left out. */
export function spaceTurns(skeleton: Skeleton, pose: Pose): SpaceTurns {
  const [rest, posed] = [turnsOfFrames(skeleton, {}), turnsOfFrames(skeleton, pose)];
  return Object.fromEntries(
    skeleton.joints.flatMap((joint, j): [string, Quat][] => {
      const q = multiplyQuat(posed[j]!, conjugate(rest[j]!));
      return Math.hypot(q[0], q[1], q[2]) > LEAST ? [[joint.name, q]] : [];
    }),
  );
}

/**
 * The turn of every joint; one that is not named stands as what it hangs on in the rest pose did: it is turned not at
 * all.
 */
export const turnsByJoint = (skeleton: Skeleton, turns: SpaceTurns | undefined): Quat[] =>
  skeleton.joints.map((j) => turns?.[j.name] ?? NONE);

/** Turns in space as a pose: Euler angles in degrees on top of rest, in each joint's own frame. */
export function poseOfTurns(skeleton: Skeleton, turns: SpaceTurns): Pose {
  const rest = turnsOfFrames(skeleton, {});
  const all = turnsByJoint(skeleton, turns);
  const world = skeleton.joints.map((_, j) => multiplyQuat(all[j]!, rest[j]!));
  return Object.fromEntries(
    skeleton.joints.flatMap((joint, j): [string, ReturnType<typeof toEulerXYZ>][] => {
      const parent = joint.parent;
      const [above, aboveRest] = parent === NO_JOINT ? [NONE, NONE] : [world[parent]!, rest[parent]!];
      const local = multiplyQuat(conjugate(above), world[j]!);
      const atRest = multiplyQuat(conjugate(aboveRest), rest[j]!);
      const angles = toEulerXYZ(multiplyQuat(conjugate(atRest), local));
      return angles.some((a) => Math.abs(a) > 1e-3) ? [[joint.name, angles]] : [];
    }),
  );
}
