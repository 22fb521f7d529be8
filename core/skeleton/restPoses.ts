import { poseRotation, worldMatrices, type Pose } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { betweenDirections, conjugate, fromAxisAngle, multiplyQuat, toEulerXYZ } from "../math/quat";
import { cross, degrees, dot, normalize, radians, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import type { Character, Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { humanoidMap } from "./humanoidMap";
import { jointMotions, motionPose } from "./jointMotions";

const SIDES = ["left", "right"] as const;

/** The pose with one joint turned further by a turn given in character space. */
function turnedInSpace(skeleton: Skeleton, pose: Pose, joint: number, turn: Quat): Pose {
  const { q } = decomposeTRS(worldMatrices(skeleton, pose), 16 * joint);
  const own = multiplyQuat(conjugate(q), multiplyQuat(turn, q));
  const { name } = skeleton.joints[joint]!;
  return { ...pose, [name]: toEulerXYZ(multiplyQuat(poseRotation(pose, name), own)) };
}

/** The pose with the bone from one joint to another brought to a direction, by the smallest turn. */
function aimed(skeleton: Skeleton, pose: Pose, from: number, to: number, direction: Vec3): Pose {
  const world = worldMatrices(skeleton, pose);
  const now = normalize(sub(translationOf(world, 16 * to), translationOf(world, 16 * from)));
  return turnedInSpace(skeleton, pose, from, betweenDirections(now, direction));
}

/**
 * Pose that stands the legs so far apart and the knees so far bent, on top of a pose: thighs lie in the plane of the
 * figure's front, shanks behind them by the bend, feet as they stood. @param spread degrees each leg leans out from
 * straight down. @param bend degrees between thigh and shank. @throws UserError where a leg is not mapped.
 */
export function legsAt(character: Character, spread: number, bend: number, pose: Pose = {}): Pose {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "rest pose", "");
  const map = humanoidMap(skeleton, character.jointMap);
  const standing = worldMatrices(skeleton, {});
  let out: Pose = pose;
  for (const side of SIDES) {
    const [hip, knee, foot] = ["UpperLeg", "LowerLeg", "Foot"].map((b) => map.jointOfBone.get(`${side}${b}`));
    if (hip === undefined || knee === undefined || foot === undefined)
      throw new UserError(`The ${side} leg is not mapped.`, "rest pose", "Map thigh, shank and foot first.");
    const s = side === "left" ? 1 : -1;
    const [lean, half] = [radians(spread), radians(bend / 2)];
    // the bend is shared between thigh and shank, so that the foot stays under the hip
    const down = (z: number): Vec3 =>
      normalize([s * Math.sin(lean), -Math.cos(lean) * Math.cos(half), z * Math.sin(half)]);
    out = aimed(skeleton, out, hip, knee, down(1));
    // the knee folds in the plane of the leg: its hinge is brought square to it by a twist of the thigh
    out = turnedInSpace(
      skeleton,
      out,
      hip,
      twistTo(
        worldMatrices(skeleton, out),
        [hip, knee],
        normalize(cross([s * Math.sin(lean), -Math.cos(lean), 0], [0, 0, 1])),
      ),
    );
    out = aimed(skeleton, out, knee, foot, down(-1));
    const now = decomposeTRS(worldMatrices(skeleton, out), 16 * foot).q;
    out = turnedInSpace(skeleton, out, foot, multiplyQuat(decomposeTRS(standing, 16 * foot).q, conjugate(now)));
  }
  return out;
}

/**
 * The turn about a bone that brings the nearest frame axis of the joint at its end as near to a direction as such a
 * turn can.
 */
function twistTo(world: Float64Array, [from, to]: readonly [number, number], wanted: Vec3): Quat {
  const along = normalize(sub(translationOf(world, 16 * to), translationOf(world, 16 * from)));
  const flat = (v: Vec3): Vec3 => sub(v, scale(along, dot(v, along)));
  const axes = [0, 1, 2].map((k): Vec3 =>
    normalize([world[16 * to + 4 * k]!, world[16 * to + 4 * k + 1]!, world[16 * to + 4 * k + 2]!]),
  );
  const nearest = axes.reduce((a, b) => (Math.abs(dot(b, wanted)) > Math.abs(dot(a, wanted)) ? b : a));
  const [now, aim] = [flat(nearest), flat(dot(nearest, wanted) < 0 ? scale(wanted, -1) : wanted)];
  return fromAxisAngle(along, degrees(Math.atan2(dot(cross(now, aim), along), dot(now, aim))));
}

/**
 * Pose with both collar bones raised by an angle from rest, degrees, on top of a pose. @throws UserError where they are
 * not mapped.
 */
export function collarBonesAt(character: Character, raise: number, pose: Pose = {}): Pose {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "rest pose", "");
  const motions = jointMotions(skeleton, humanoidMap(skeleton, character.jointMap)).filter(
    (m) => m.bone.endsWith("Shoulder") && m.name === "raise",
  );
  if (motions.length < 2)
    throw new UserError("The collar bones are not mapped.", "rest pose", "Map both shoulders first.");
  return motions.reduce((p, m): Pose => ({ ...p, ...motionPose(m, raise) }), pose);
}

/**
 * Pose with both feet turned out by an angle from straight ahead, degrees, on top of a pose; the legs stay. @throws
 * UserError where feet or toes are not mapped.
 */
export function feetAt(character: Character, out: number, pose: Pose = {}): Pose {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "rest pose", "");
  const map = humanoidMap(skeleton, character.jointMap);
  return SIDES.reduce((now, side): Pose => {
    const [foot, toes] = ["Foot", "Toes"].map((b) => map.jointOfBone.get(`${side}${b}`));
    if (foot === undefined || toes === undefined)
      throw new UserError(`The ${side} foot is not mapped.`, "rest pose", "Map foot and toes first.");
    const world = worldMatrices(skeleton, now);
    const d = sub(translationOf(world, 16 * toes), translationOf(world, 16 * foot));
    const s = side === "left" ? 1 : -1;
    // about the vertical: from where the foot points now to so far outward
    return turnedInSpace(skeleton, now, foot, fromAxisAngle([0, 1, 0], s * out - degrees(Math.atan2(d[0], d[2]))));
  }, pose);
}
