import type { Vec3 } from "../math/vec3";

/**
 * A joint that takes a share of another joint's turn about its bone, so that a twist is spread along a limb. It turns
 * by itself in every pose that does not set its own angles.
 */
export interface TwistJoint {
  readonly joint: string;
  /** The joint whose turn it takes. */
  readonly of: string;
  /** The bone about which that one is read, unit vector in its own frame. */
  readonly axis: Vec3;
  /** The same axis in this joint's own frame. */
  readonly about: Vec3;
  /** -1..1; below zero for a joint that hangs on the one it reads and gives a part of its turn back. */
  readonly share: number;
}
