import { conjugate, fromAxisAngle, multiplyQuat, rotate } from "../math/quat";
import { cross, length, normalize, sub, type Quat, type Vec3 } from "../math/vec3";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import type { Fitting } from "../model/fitting";
import { setTurnAt, standing, turnAt, type Motion, type Standing } from "./motion";

/** Turns a joint further in space, in one frame. What hangs on it goes along. */
function turnInSpace(motion: Motion, frame: number, now: Standing, joint: number, turn: Quat): void {
  const parent = motion.skeleton.joints[joint]!.parent;
  const above: Quat = parent < 0 ? [0, 0, 0, 1] : now.turns[parent]!;
  const own = multiplyQuat(conjugate(above), multiplyQuat(turn, multiplyQuat(above, turnAt(motion, frame, joint))));
  setTurnAt(motion, frame, joint, own);
}

/** Which of these turn joints at all. */
export const turnsJoints = (f: Fitting): boolean =>
  f.arms !== 0 || f.collars !== 0 || f.chin !== 0 || f.feet !== 0 || f.heels !== 0;

/**
 * Arms away from the body, collar bones, chin, feet turned out and heels raised, in every frame: about axes of the
 * trunk, head and feet as they stand then. Written into the movement.
 */
export function layPoseEdits(motion: Motion, map: HumanoidMap, fitting: Fitting): void {
  const joint = (bone: string): number => map.jointOfBone.get(bone) ?? -1;
  const room: Standing = { turns: [], places: [] };
  const keys = (j: number): void => {
    if (j >= 0) motion.keyed[j] = 1;
  };
  for (const side of ["left", "right"])
    for (const bone of ["UpperArm", "Shoulder", "Foot", "Toes"]) keys(joint(side + bone));
  keys(joint("head"));
  for (let f = 0; f < motion.frames; f++) {
    standing(motion, f, room);
    const across = acrossOf(room, joint("leftUpperArm"), joint("rightUpperArm"));
    const spineUp = upOf(room, joint("hips"), joint("neck"));
    const ahead = normalize(cross(across, spineUp));
    for (const [side, sign] of [
      ["left", 1],
      ["right", -1],
    ] as const) {
      const [collar, arm] = [joint(`${side}Shoulder`), joint(`${side}UpperArm`)];
      if (fitting.collars && collar >= 0)
        turnInSpace(motion, f, room, collar, fromAxisAngle(ahead, sign * fitting.collars));
      if (fitting.arms && arm >= 0) turnInSpace(motion, f, room, arm, fromAxisAngle(ahead, sign * fitting.arms));
      layFoot(motion, f, room, [joint(`${side}Foot`), joint(`${side}Toes`)], sign, fitting);
    }
    const head = joint("head");
    if (fitting.chin && head >= 0) turnInSpace(motion, f, room, head, fromAxisAngle(across, -fitting.chin));
  }
}

function layFoot(
  motion: Motion,
  frame: number,
  now: Standing,
  [foot, toes]: readonly [number, number],
  sign: number,
  { feet, heels }: Fitting,
): void {
  if (foot < 0 || (!feet && !heels)) return;
  if (feet) turnInSpace(motion, frame, now, foot, fromAxisAngle([0, 1, 0], sign * feet));
  if (!heels) return;
  standing(motion, frame, now);
  const along: Vec3 = toes >= 0 ? sub(now.places[toes]!, now.places[foot]!) : rotate(now.turns[foot]!, [0, 0, 1]);
  const flat: Vec3 = [along[0], 0, along[2]];
  if (length(flat) < 1e-6) return;
  // to the left of where the foot points: a turn about it lowers the toes
  const aside = normalize(cross([0, 1, 0], flat));
  turnInSpace(motion, frame, now, foot, fromAxisAngle(aside, heels));
  if (toes < 0) return;
  standing(motion, frame, now);
  turnInSpace(motion, frame, now, toes, fromAxisAngle(aside, -heels));
}

function acrossOf(now: Standing, left: number, right: number): Vec3 {
  if (left < 0 || right < 0) return [1, 0, 0];
  return normalize(sub(now.places[left]!, now.places[right]!));
}
function upOf(now: Standing, low: number, high: number): Vec3 {
  if (low < 0 || high < 0) return [0, 1, 0];
  return normalize(sub(now.places[high]!, now.places[low]!));
}
