import { NO_JOINT, type Joint, type Skeleton } from "../model/character";
import { composeTRS, multiplyMat4 } from "../math/mat4";
import { fromEulerXYZ, multiplyQuat } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";

/** Joint name -> intrinsic XYZ angles in degrees, applied on top of the rest rotation in the joint's own frame. */
export type Pose = Readonly<Record<string, Vec3>>;

export const REST_POSE: Pose = {};

/** Turn of a joint away from rest, in its own frame. */
export const poseRotation = (pose: Pose, joint: string): Quat => {
  const angles = pose[joint];
  return angles ? fromEulerXYZ(angles[0], angles[1], angles[2]) : [0, 0, 0, 1];
};

const local = new Float64Array(16);

/** World matrices of all joints in a pose: 16 x jointCount, joint space to character space. */
export const worldMatrices = (
  skeleton: Skeleton,
  pose: Pose,
  out = new Float64Array(16 * skeleton.joints.length),
): Float64Array =>
  chainedMatrices(skeleton, (_, { name }) => (pose[name] ? poseRotation(pose, name) : null), null, out);

/**
 * World matrices of all joints, each placed in what it hangs on.
 * @param turnOf away from rest, in the joint's own frame; null where it stands at rest.
 * @param travel 3 x jointCount, how far joints stand from their rest place; null where none does.
 */
export function chainedMatrices(
  { joints }: Skeleton,
  turnOf: (joint: number, at: Joint) => Quat | null,
  travel: Float64Array | null,
  out: Float64Array,
): Float64Array {
  for (let j = 0; j < joints.length; j++) {
    const joint = joints[j]!;
    const turn = turnOf(j, joint);
    const rotation = turn ? multiplyQuat(joint.rotation, turn) : joint.rotation;
    const t = joint.translation;
    const place: Vec3 = travel ? [t[0] + travel[3 * j]!, t[1] + travel[3 * j + 1]!, t[2] + travel[3 * j + 2]!] : t;
    if (joint.parent === NO_JOINT) composeTRS(out, 16 * j, place, rotation, joint.scale);
    else {
      composeTRS(local, 0, place, rotation, joint.scale);
      multiplyMat4(out, 16 * j, out, 16 * joint.parent, local, 0);
    }
  }
  return out;
}

/** Skinning matrices, bind space to character space: world x inverse bind, 16 x jointCount. */
export function skinMatrices(
  world: Float64Array,
  inverseBinds: ArrayLike<number>,
  out = new Float64Array(world.length),
): Float64Array {
  for (let at = 0; at < world.length; at += 16) multiplyMat4(out, at, world, at, inverseBinds, at);
  return out;
}
