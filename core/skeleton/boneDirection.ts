import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { conjugate, rotate } from "../math/quat";
import { add, length, normalize, scale, sub, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Skeleton } from "../model/character";
import { sideOfBone } from "../names/humanoidBones";
import type { HumanoidMap } from "./humanoidMap";

const AFTER: Readonly<Record<string, string>> = {
  hips: "spine",
  neck: "head",
  Shoulder: "UpperArm",
  UpperArm: "LowerArm",
  LowerArm: "Hand",
  Hand: "MiddleProximal",
  UpperLeg: "LowerLeg",
  LowerLeg: "Foot",
  Foot: "Toes",
};
/** The next bone of a limb; empty where none is. */
function boneAfter(bone: string): string {
  const side = sideOfBone(bone) ?? "";
  const next = AFTER[bone.slice(side.length)];
  return next ? side + next : "";
}

/**
 * The way a joint's bone points at rest, unit vector in the joint's own frame: to the next bone of the limb where it is
 * mapped, else to the middle of the joints that hang on it, else away from what it hangs on; up where nothing tells.
 */
export function boneDirection(skeleton: Skeleton, map: HumanoidMap | null, joint: number): Vec3 {
  const world = worldMatrices(skeleton, {});
  const at = (j: number): Vec3 => translationOf(world, 16 * j);
  const here = at(joint);
  const bone = map?.boneOfJoint[joint];
  const next = bone ? map?.jointOfBone.get(boneAfter(bone)) : undefined;
  const children = skeleton.joints.flatMap((j, i) => (j.parent === joint ? [i] : []));
  const { parent } = skeleton.joints[joint]!;
  const ways: Vec3[] = [
    ...(next === undefined ? [] : [sub(at(next), here)]),
    ...(children.length ? [sub(scale(children.map(at).reduce(add), 1 / children.length), here)] : []),
    ...(parent === NO_JOINT ? [] : [sub(here, at(parent))]),
  ];
  const way = ways.find((w) => length(w) > 1e-4) ?? [0, 1, 0];
  return rotate(conjugate(decomposeTRS(world, 16 * joint).q), normalize(way));
}
