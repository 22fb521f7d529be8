import { conjugate, multiplyQuat } from "../math/quat";
import { length, sub, type Quat, type Vec3 } from "../math/vec3";
import { reach } from "../skeleton/reach";
import { setTurnAt, turnAt, type Motion, type Standing } from "./motion";

/**
 * Bends a limb in one frame so that its end comes to a place, turned as it was. What lies between its bones keeps its
 * turn.
 * @param limb joints of its two bones and its end. @param pole where its middle joint points when it is straight.
 */
export function bendLimb(
  motion: Motion,
  frame: number,
  now: Standing,
  [root, middle, end]: readonly [number, number, number],
  target: Vec3,
  pole: Vec3,
): void {
  if (length(sub(target, now.places[end]!)) < 1e-6) return;
  const { joints } = motion.skeleton;
  const got = reach(
    {
      root: now.places[root]!,
      middle: now.places[middle]!,
      end: now.places[end]!,
      rootTurn: now.turns[root]!,
      middleTurn: now.turns[middle]!,
    },
    target,
    pole,
  );
  const between = (joint: number, above: number): Quat => {
    let q: Quat = [0, 0, 0, 1];
    for (let j = joints[joint]!.parent; j !== above && j >= 0; j = joints[j]!.parent)
      q = multiplyQuat(turnAt(motion, frame, j), q);
    return q;
  };
  const parent = joints[root]!.parent;
  const above: Quat = parent < 0 ? [0, 0, 0, 1] : now.turns[parent]!;
  const set = (joint: number, from: Quat, turn: Quat): void =>
    setTurnAt(motion, frame, joint, multiplyQuat(conjugate(from), turn));
  set(root, above, got.rootTurn);
  set(middle, multiplyQuat(got.rootTurn, between(middle, root)), got.middleTurn);
  set(end, multiplyQuat(got.middleTurn, between(end, middle)), now.turns[end]!);
}
