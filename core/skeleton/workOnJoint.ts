import { worldMatrices } from "../evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, invertAffine, multiplyMat4, translationOf } from "../math/mat4";
import { fromAxisAngle, fromEulerXYZ, multiplyQuat } from "../math/quat";
import { add, length, normalize, scale, sub, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character } from "../model/character";
import { UserError } from "../model/userError";
import { changeRest } from "./changeRest";
import { rearrangeJoints } from "./rearrangeJoints";

const indexOf = (character: Character, name: string): number => {
  const j = character.skeleton?.joints.findIndex((x) => x.name === name) ?? -1;
  if (j < 0)
    throw new UserError(
      `There is no joint named ${name}.`,
      "joint",
      "It may have been renamed or removed by another step.",
    );
  return j;
};

/**
 * A joint hung on another, or on nothing; it and all below it stay where they are. @throws UserError for a joint under
 * itself.
 */
export function hangJoint(character: Character, name: string, under: string | null): Character {
  const [j, parent] = [indexOf(character, name), under === null ? NO_JOINT : indexOf(character, under)];
  const { joints } = character.skeleton!;
  if (joints[j]!.parent === parent) throw new UserError(`${name} hangs on ${under ?? "nothing"} already.`, "joint", "");
  return rearrangeJoints(character, { kept: () => true, parent: (k) => (k === j ? parent : joints[k]!.parent) });
}

export interface JointPlace {
  readonly joint: string;
  /** Along the axes of space, mm. */
  readonly moveMm: Vec3;
  /** About the joint's own axes, X then Y then Z, degrees. */
  readonly turn: Vec3;
  /** About the bone, from the joint to what hangs on it (the mean of several), degrees. */
  readonly roll: number;
  /** Whether joints below go along; else they stay where they are. */
  readonly withBelow: boolean;
}

/**
 * A joint moved, turned and rolled at rest; mesh and clips go on as they were: every bind goes along, keys keep the
 * movement in the frame above.
 */
export function placeJoint(character: Character, { joint, moveMm, turn, roll, withBelow }: JointPlace): Character {
  const j = indexOf(character, joint);
  const skeleton = character.skeleton!;
  const world = worldMatrices(skeleton, {});
  const before = world.slice(16 * j, 16 * j + 16);
  const { t, q, s } = decomposeTRS(before, 0);
  const rolled = multiplyQuat(fromAxisAngle(boneOf(character, world, j), roll), q);
  composeTRS(world, 16 * j, add(t, scale(moveMm, 1e-3)), multiplyQuat(rolled, fromEulerXYZ(...turn)), s);
  if (withBelow) {
    const inverse = new Float64Array(16);
    const change = new Float64Array(16);
    if (!invertAffine(inverse, 0, before, 0))
      throw new UserError(`The rest of ${joint} cannot be inverted.`, "joint", "Give it a scale other than 0.");
    multiplyMat4(change, 0, world, 16 * j, inverse, 0);
    const moved = new Set([j]);
    skeleton.joints.forEach((x, k) => {
      if (!moved.has(x.parent)) return;
      moved.add(k);
      multiplyMat4(world, 16 * k, change, 0, world.slice(16 * k, 16 * k + 16), 0);
    });
  }
  return changeRest(character, world);
}

/** Direction of a joint's bone in space. */
function boneOf(character: Character, world: Float64Array, j: number): Vec3 {
  const below = character.skeleton!.joints.flatMap((x, k) => (x.parent === j ? [translationOf(world, 16 * k)] : []));
  const at = translationOf(world, 16 * j);
  const mean = below.length ? scale(below.reduce(add, [0, 0, 0] as Vec3), 1 / below.length) : at;
  const along = sub(mean, at);
  return length(along) > 1e-6
    ? normalize(along)
    : normalize([world[16 * j + 4]!, world[16 * j + 5]!, world[16 * j + 6]!]);
}
