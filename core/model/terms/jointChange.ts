import type { Quat, Vec3 } from "../../math/vec3";

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
