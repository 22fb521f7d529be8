import { conjugate, multiplyQuat, rotate } from "../../math/quat";
import type { Quat, Vec3 } from "../../math/vec3";
import type { Character, Joint, Json, Skeleton } from "../../model/character";
import { jointIndexOf } from "../../model/jointIndex";
import type { TwistJoint } from "../../model/twistJoint";

/** Axes by their names in VRMC_node_constraint 1.0. */
const AXES = ["X", "Y", "Z"] as const;
/** How far an axis or a rest turn may be from the one that the constraint means. */
const NEAR = 1e-4;

const axisVector = (axis: number): Vec3 => [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0];
const near = (a: readonly number[], b: readonly number[]): boolean => a.every((x, i) => Math.abs(x - b[i]!) < NEAR);

/**
 * Joints that share a twist as roll constraints of VRM 1.0, where one says the same: the joint hangs beside the one
 * that it reads, takes a share above zero, and the bone lies along an axis of its frame.
 * @returns by joint, sources by name.
 */
export function rollConstraints({ skeleton, twistJoints = [] }: Character): Record<string, Json> {
  const index = skeleton && jointIndexOf(skeleton);
  const jointOf = (name: string): Joint | undefined => skeleton?.joints[index?.get(name) ?? -1];
  return Object.fromEntries(
    twistJoints.flatMap(({ joint, of, axis, about, share }) => {
      const [own, source] = [jointOf(joint), jointOf(of)];
      const along = AXES.findIndex((_, k) => near(about.map(Math.abs), axisVector(k)));
      if (!own || !source || along < 0 || share <= 0 || own.parent !== source.parent) return [];
      if (!near(axisInSource(own, source, about), axis)) return [];
      const roll = { source: of, rollAxis: AXES[along]!, weight: share };
      return [[joint, { specVersion: "1.0", constraint: { roll } }] as const];
    }),
  );
}

/** An axis of a joint's frame in that of a joint beside it, at rest. */
const axisInSource = (own: Joint, source: Joint, about: Vec3): Vec3 =>
  rotate(multiplyQuat(conjugate(source.rotation as Quat), own.rotation as Quat), about);

const isObject = (x: unknown): x is Readonly<Record<string, unknown>> =>
  typeof x === "object" && x !== null && !Array.isArray(x);

/**
 * Roll constraints of a VRM as joints that share a twist (VRMC_node_constraint 1.0: what a source turns about the axis,
 * told in what both hang on). Those between joints that hang on different ones are left as they are.
 */
export function twistsOfRolls(constraints: Readonly<Record<string, Json>>, skeleton: Skeleton): TwistJoint[] {
  const index = jointIndexOf(skeleton);
  return Object.entries(constraints).flatMap(([joint, of]): TwistJoint[] => {
    const roll = isObject(of) && isObject(of["constraint"]) ? of["constraint"]["roll"] : undefined;
    if (!isObject(roll) || typeof roll["source"] !== "string") return [];
    const along = AXES.indexOf(roll["rollAxis"] as "X");
    const share = typeof roll["weight"] === "number" ? roll["weight"] : 1;
    const [own, source] = [skeleton.joints[index.get(joint) ?? -1], skeleton.joints[index.get(roll["source"]) ?? -1]];
    if (!own || !source || along < 0 || !(share > 0 && share <= 1) || own.parent !== source.parent) return [];
    const about = axisVector(along);
    return [{ joint, of: roll["source"], axis: axisInSource(own, source, about), about, share }];
  });
}
