import { worldMatrices, type Pose } from "../evaluate/poseSkeleton";
import { decomposeTRS, invertAffine } from "../math/mat4";
import { betweenDirections, conjugate, multiplyQuat, rotate, toEulerXYZ } from "../math/quat";
import { degrees, dot, type Quat, type Vec3 } from "../math/vec3";
import type { Character, Skeleton } from "../model/character";
import { sideOfBone } from "../names/humanoidBones";
import { boneDirection } from "../skeleton/boneDirection";
import { humanoidMap } from "../skeleton/humanoidMap";

/** Limbs that point nearer to each other than this stand alike, degrees. */
const ALIKE = 3;
/** Bones whose direction is build, not pose. */
const BUILD = /Shoulder$|Eye$|Toes$/;

/** Turn of each joint's frame in space, where it rests or where the mesh is bound. */
export function framesOf(skeleton: Skeleton, where: "rest" | "bound"): Quat[] {
  const world = worldMatrices(skeleton, {});
  const out = new Float64Array(16);
  return skeleton.joints.map((_, j) => {
    if (where === "rest") return decomposeTRS(world, 16 * j).q;
    invertAffine(out, 0, skeleton.inverseBinds, 16 * j);
    return decomposeTRS(out, 0).q;
  });
}

/**
 * The pose in which a figure holds its limbs as another one does, where that one rests or where its mesh is bound.
 * Limbs that both have mapped are brought into line one after the other, from the trunk outward.
 */
export function standLike(figure: Character, other: Character, where: "rest" | "bound"): Pose {
  const [own, theirs] = [figure.skeleton, other.skeleton];
  if (!own || !theirs) return {};
  const [map, otherMap] = [humanoidMap(own, figure.jointMap), humanoidMap(theirs, other.jointMap)];
  const frames = framesOf(theirs, where);
  const pose: Record<string, Vec3> = {};
  own.joints.forEach(({ name }, j) => {
    const bone = map.boneOfJoint[j];
    const k = bone ? otherMap.jointOfBone.get(bone) : undefined;
    if (!bone || k === undefined || !sideOfBone(bone) || BUILD.test(bone)) return;
    const frame = decomposeTRS(worldMatrices(own, pose), 16 * j).q;
    const points = rotate(frame, boneDirection(own, map, j));
    const should = rotate(frames[k]!, boneDirection(theirs, otherMap, k));
    if (degrees(Math.acos(Math.min(1, dot(points, should)))) < ALIKE) return;
    const turn = multiplyQuat(multiplyQuat(conjugate(frame), betweenDirections(points, should)), frame);
    pose[name] = toEulerXYZ(turn);
  });
  return pose;
}
