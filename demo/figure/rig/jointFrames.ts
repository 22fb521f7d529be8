import { composeTRS, invertAffine } from "../../../core/math/mat4";
import { conjugate, fromAxes, multiplyQuat, rotate } from "../../../core/math/quat";
import { cross, dot, normalize, scale, sub, type Quat, type Vec3 } from "../../../core/math/vec3";
import { NO_JOINT, type Joint, type Skeleton } from "../../../core/model/character";
import { jointIndex, JOINTS } from "./joints";

const UNTURNED: Quat = [0, 0, 0, 1];
const FORWARD: Vec3 = [0, 0, 1];
const placeOf = (name: string): Vec3 => JOINTS[jointIndex(name)]!.place;

/**
 * The figure's joints with frames of their own: Y along the bone, X the hinge, so that a positive turn about X bends
 * the natural way.
 */
export function figureSkeleton(): Skeleton {
  const frames = JOINTS.map(({ name }) => frameOf(name));
  const inverseBinds = new Float32Array(16 * JOINTS.length);
  const world = new Float64Array(16);
  const inverse = new Float64Array(16);
  const joints = JOINTS.map(({ name, parent, place }, i): Joint => {
    composeTRS(world, 0, place, frames[i]!, [1, 1, 1]);
    invertAffine(inverse, 0, world, 0);
    inverseBinds.set(inverse, 16 * i);
    if (parent === null) return { name, parent: NO_JOINT, translation: place, rotation: frames[i]!, scale: [1, 1, 1] };
    const up = jointIndex(parent);
    const back = conjugate(frames[up]!);
    return {
      name,
      parent: up,
      translation: rotate(back, sub(place, placeOf(parent))),
      rotation: multiplyQuat(back, frames[i]!),
      scale: [1, 1, 1],
    };
  });
  return { joints, inverseBinds, inSkin: new Uint8Array(JOINTS.length).fill(1) };
}

function frameOf(name: string): Quat {
  const side = name.startsWith("left") ? "left" : name.startsWith("right") ? "right" : null;
  if (!side || name.endsWith("Eye")) return UNTURNED;
  const along = directionOf(name);
  if (/Foot|Toes/.test(name)) return orient(along, [-1, 0, 0]);
  if (/Leg/.test(name)) return orient(along, kneeHinge(side));
  const hand = normalize(sub(placeOf(`${side}MiddleProximal`), placeOf(`${side}Hand`)));
  const palm = normalize(sub([0, -1, 0], scale(hand, -hand[1])));
  if (/Hand|Index|Middle|Ring|Little/.test(name)) return orient(along, cross(hand, palm));
  if (/Thumb/.test(name)) return orient(along, cross(normalize([hand[0], hand[1], hand[2] + 0.8]), palm));
  if (/Shoulder/.test(name)) return orient(along, cross(along, FORWARD));
  return orient(along, cross(normalize(sub(placeOf(`${side}LowerArm`), placeOf(`${side}UpperArm`))), FORWARD));
}

/** Normal of the leg's plane, to the figure's left on both sides. */
function kneeHinge(side: "left" | "right"): Vec3 {
  const [hip, knee, ankle] = [placeOf(`${side}UpperLeg`), placeOf(`${side}LowerLeg`), placeOf(`${side}Foot`)];
  const normal = normalize(cross(sub(knee, hip), sub(ankle, knee)));
  return normal[0] > 0 ? normal : scale(normal, -1);
}

/** Toward the first child that is not the thumb, or on from the parent. */
function directionOf(name: string): Vec3 {
  const child = JOINTS.find((j) => j.parent === name && !/Thumb/.test(j.name));
  const own = placeOf(name);
  return normalize(child ? sub(child.place, own) : sub(own, placeOf(JOINTS[jointIndex(name)]!.parent!)));
}

/** Frame with Y along a direction and X as near as can be to a hinge. */
function orient(along: Vec3, hinge: Vec3): Quat {
  const y = normalize(along);
  const x = normalize(sub(hinge, scale(y, dot(hinge, y))));
  return fromAxes(x, y, cross(x, y));
}
