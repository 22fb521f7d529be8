import { worldMatrices } from "../evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, translationOf } from "../math/mat4";
import { betweenDirections, conjugate, multiplyQuat, rotate } from "../math/quat";
import { add, cross, dot, length, normalize, radians, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { changeRest } from "./changeRest";
import { mirrorBone, sideOfBone } from "../names/humanoidBones";
import type { HumanoidMap } from "./humanoidMap";
import { swapSide } from "../names/nameWords";

/** The two ends of a hinge, by the kind of its middle bone. */
const ENDS: Readonly<Record<string, readonly [above: string, below: string]>> = {
  LowerArm: ["UpperArm", "Hand"],
  LowerLeg: ["UpperLeg", "Foot"],
};

/**
 * Joints above, at and below an elbow or knee. @throws UserError when the joint is no hinge or its limb is not mapped.
 */
function hingeChain(
  skeleton: Skeleton,
  map: HumanoidMap,
  jointName: string,
): { kind: string; chain: readonly [number, number, number] } {
  const j = skeleton.joints.findIndex((x) => x.name === jointName);
  const bone = map.boneOfJoint[j] ?? "";
  const side = sideOfBone(bone);
  const kind = side ? bone.slice(side.length) : "";
  const ends = ENDS[kind];
  const [a, c] = ends ? ends.map((e) => map.jointOfBone.get(`${side}${e}`)) : [];
  if (!side || a === undefined || c === undefined)
    throw new UserError(`${jointName} is no elbow or knee of a mapped limb.`, "hinge", "Map the limb first.");
  return { kind, chain: [a, j, c] };
}

const put = (world: Float64Array, j: number, place: Vec3, frame: Quat): void =>
  composeTRS(world, 16 * j, place, frame, decomposeTRS(world, 16 * j).s);

/**
 * Turns a hinge's frame so that its nearest axis is square to the limb's plane; the joint and all below it stay where
 * they are.
 */
export function squareHinge(character: Character, map: HumanoidMap, jointName: string): Character {
  const skeleton = character.skeleton!;
  const { chain } = hingeChain(skeleton, map, jointName);
  const world = worldMatrices(skeleton, {});
  const [a, b, c] = chain.map((j) => translationOf(world, 16 * j)) as [Vec3, Vec3, Vec3];
  const normal = cross(normalize(sub(b, a)), normalize(sub(c, b)));
  if (length(normal) < Math.sin(radians(1)))
    throw new UserError(
      `${jointName} is too straight to say in which plane it bends.`,
      "hinge",
      "Give it a small bend first.",
    );
  const n = normalize(normal);
  const frame = decomposeTRS(world, 16 * chain[1]).q;
  const axes = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((axis) => rotate(frame, axis));
  const nearest = axes.reduce((best, axis) => (Math.abs(dot(axis, n)) > Math.abs(dot(best, n)) ? axis : best));
  put(world, chain[1], b, multiplyQuat(betweenDirections(nearest, dot(nearest, n) < 0 ? scale(n, -1) : n), frame));
  return changeRest(character, world);
}

/** A joint's bend at rest after repair, degrees (common practice, no source: 3 to 5). */
export const REST_BEND = 4;

/** How far a limb is from straight at its middle joint, degrees. */
function bendOf(world: Float64Array, chain: readonly [number, number, number]): number {
  const [a, b, c] = chain.map((j) => translationOf(world, 16 * j)) as [Vec3, Vec3, Vec3];
  const [u, v] = [normalize(sub(b, a)), normalize(sub(c, b))];
  return (Math.atan2(length(cross(u, v)), dot(u, v)) * 180) / Math.PI;
}

/**
 * Brings a straight elbow or knee to a small bend the right way. When the other side's is bent well, this side's limb
 * from the joint down is set to its mirror image, frames turned by what tells the two sides' frames apart above the
 * joint; else the joint is moved off the line between its ends, elbows backward, knees forward. The mesh stays as it
 * is.
 */
export function bendHinge(character: Character, map: HumanoidMap, jointName: string): Character {
  const skeleton = character.skeleton!;
  const { kind, chain } = hingeChain(skeleton, map, jointName);
  const world = worldMatrices(skeleton, {});
  const other = chain.map((j) => map.jointOfBone.get(mirrorBone(map.boneOfJoint[j]!)));
  if (
    other.every((j) => j !== undefined) &&
    bendOf(world, other as unknown as readonly [number, number, number]) > REST_BEND / 4
  )
    return changeRest(character, mirrorLimb(skeleton, map, world, chain[0], chain[1]));
  put(world, chain[1], bentPlace(world, chain, kind, REST_BEND), decomposeTRS(world, 16 * chain[1]).q);
  return changeRest(character, world);
}

/**
 * Where a hinge's joint lies when its limb is bent by so many degrees and both ends stay: off the line between them,
 * elbows backward, knees forward.
 */
function bentPlace(world: Float64Array, chain: readonly [number, number, number], kind: string, degrees: number): Vec3 {
  const [a, b, c] = chain.map((j) => translationOf(world, 16 * j)) as [Vec3, Vec3, Vec3];
  const along = normalize(sub(c, a));
  const right: Vec3 = kind === "LowerArm" ? [0, 0, -1] : [0, 0, 1];
  const straight = add(a, scale(along, dot(sub(b, a), along)));
  const now = sub(b, straight);
  // a limb that bends already keeps its plane, unless it bends the wrong way
  const wanted = bendOf(world, chain) > REST_BEND / 4 && dot(now, right) > 0 ? now : right;
  const off = normalize(sub(wanted, scale(along, dot(wanted, along))));
  // two right triangles on the line share the height h: atan(h/u) + atan(h/l) is the bend, a quadratic in h
  const [u, l, t] = [length(sub(straight, a)), length(sub(c, straight)), Math.tan(radians(degrees))];
  return add(straight, scale(off, t < 1e-9 ? 0 : (Math.hypot(u + l, 2 * t * Math.sqrt(u * l)) - (u + l)) / (2 * t)));
}

/** Limbs whose hinges can be bent, by the words the user sees. */
export const HINGED_LIMBS = { elbows: "LowerArm", knees: "LowerLeg" } as const;
export type HingedLimb = keyof typeof HINGED_LIMBS;

/**
 * Both elbows or both knees of the skeleton at rest brought to a bend in degrees, their frames turned so that the
 * hinge axis is square to the limb's plane.
 * Only these joints move; the mesh stays as it is. @throws UserError when a limb is not mapped.
 */
export function bendHinges(character: Character, map: HumanoidMap, limb: HingedLimb, degrees: number): Character {
  return (["left", "right"] as const).reduce((c, side) => {
    const joint = map.jointOfBone.get(`${side}${HINGED_LIMBS[limb]}`);
    if (joint === undefined || !c.skeleton)
      throw new UserError(`The ${side} one of the ${limb} is not mapped.`, "hinge", "Map the limb first.");
    const { name } = c.skeleton.joints[joint]!;
    const { kind, chain } = hingeChain(c.skeleton, map, name);
    const world = worldMatrices(c.skeleton, {});
    put(world, joint, bentPlace(world, chain, kind, degrees), decomposeTRS(world, 16 * joint).q);
    const bent = changeRest(c, world);
    return degrees < 1 ? bent : squareHinge(bent, map, name);
  }, character);
}

/** Bend of both elbows or knees of the skeleton at rest, degrees; null where one is not mapped. */
export function hingeBends(
  { skeleton }: Character,
  map: HumanoidMap,
  limb: HingedLimb,
): { left: number; right: number } | null {
  if (!skeleton) return null;
  const world = worldMatrices(skeleton, {});
  const [left, right] = (["left", "right"] as const).map((side) => {
    const joint = map.jointOfBone.get(`${side}${HINGED_LIMBS[limb]}`);
    return joint === undefined ? null : bendOf(world, hingeChain(skeleton, map, skeleton.joints[joint]!.name).chain);
  });
  return left == null || right == null ? null : { left, right };
}

/**
 * Places and frames of a limb from a joint down, mirrored from the other side. @param above joint of the limb that is
 * right on both sides.
 */
function mirrorLimb(
  skeleton: Skeleton,
  map: HumanoidMap,
  world: Float64Array,
  above: number,
  from: number,
): Float64Array {
  const out = world.slice();
  const counterpart = (j: number): number | undefined => {
    const bone = map.boneOfJoint[j];
    if (bone) return map.jointOfBone.get(mirrorBone(bone));
    const name = swapSide(skeleton.joints[j]!.name);
    const found = skeleton.joints.findIndex((x) => x.name === name);
    return found >= 0 ? found : undefined;
  };
  const frame = (j: number): Quat => decomposeTRS(world, 16 * j).q;
  // what tells a frame apart from the mirror image of the other side's, read above the joint, where both are right
  const reference = counterpart(above);
  const manner =
    reference === undefined
      ? ([0, 0, 0, 1] as Quat)
      : multiplyQuat(conjugate(mirrorTurn(frame(reference))), frame(above));
  const isBelow = (j: number): boolean => {
    for (let k = j; k !== NO_JOINT; k = skeleton.joints[k]!.parent) if (k === from) return true;
    return false;
  };
  skeleton.joints.forEach((joint, j) => {
    if (!isBelow(j)) return;
    const twin = counterpart(j);
    if (twin === undefined)
      throw new UserError(`${joint.name} has no counterpart on the other side.`, "hinge", "Map both limbs first.");
    const p = translationOf(world, 16 * twin);
    put(out, j, [-p[0], p[1], p[2]], multiplyQuat(mirrorTurn(frame(twin)), manner));
  });
  return out;
}

/** A turn seen in the mirror x = 0. */
const mirrorTurn = (q: Quat): Quat => [q[0], -q[1], -q[2], q[3]];
