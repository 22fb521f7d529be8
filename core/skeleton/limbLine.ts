import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { dot, length, normalize, sub, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Skeleton } from "../model/character";
import { jointIndexOf } from "../model/jointIndex";
import { UserError } from "../model/userError";

/** What a limb is, found in the skeleton at rest. */
export interface LimbLine {
  readonly joint: number;
  /** Joint at which the limb begins: the one that twists it, or the one that this hangs on within the limb. */
  readonly first: number;
  readonly end: number;
  /** Places of both ends, metres. */
  readonly from: Vec3;
  readonly to: Vec3;
}

/**
 * The limb between a joint that twists it and the joint at which it ends. @param inLimb whether the joint lies within
 * the limb, on the one at which it begins. @throws UserError when a joint is missing or both lie at one place.
 */
export function limbLine(skeleton: Skeleton, joint: string, end: string, inLimb: boolean): LimbLine {
  const index = jointIndexOf(skeleton);
  const [at, to] = [index.get(joint), index.get(end)];
  if (at === undefined || to === undefined)
    throw new UserError(`There is no joint named ${at === undefined ? joint : end}.`, "add twist joints", "");
  const up = skeleton.joints[at]!.parent;
  const first = inLimb && up !== NO_JOINT ? up : at;
  const world = worldMatrices(skeleton, {});
  const line = { joint: at, first, end: to, from: translationOf(world, 16 * first), to: translationOf(world, 16 * to) };
  if (length(sub(line.to, line.from)) < 1e-4)
    throw new UserError(
      `${joint} and ${end} lie at one place.`,
      "add twist joints",
      "Take the joint that ends the limb.",
    );
  return line;
}

/** Whether the joint that twists a limb lies within it: it hangs on a joint that lies on the way to the limb's end. */
export function liesInLimb(skeleton: Skeleton, joint: string, end: string): boolean {
  const index = jointIndexOf(skeleton);
  const [at, to] = [index.get(joint), index.get(end)];
  if (at === undefined || to === undefined) return false;
  const up = skeleton.joints[at]!.parent;
  if (up === NO_JOINT) return false;
  const world = worldMatrices(skeleton, {});
  const [a, b, c] = [up, at, to].map((j) => translationOf(world, 16 * j)) as [Vec3, Vec3, Vec3];
  const [above, below] = [sub(b, a), sub(c, b)];
  if (length(above) < 1e-5 || length(below) < 1e-5) return length(above) < 1e-5 && length(below) > 1e-5;
  // within a limb the bone above goes on straight, and is no longer than the limb itself
  return dot(normalize(above), normalize(below)) > 0.995 && length(above) < 2 * length(below);
}
