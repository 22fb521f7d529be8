import { evaluate, type Evaluated } from "../evaluate/evaluate";
import type { Moment } from "../evaluate/moment";
import { decomposeTRS, translationOf } from "../math/mat4";
import { conjugate, multiplyQuat, rotate, toEulerXYZ } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import { NO_JOINT, type Character } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { reach } from "../skeleton/reach";

export const ENDS = ["leftFoot", "rightFoot", "leftHand", "rightHand"] as const;
export type End = (typeof ENDS)[number];

const LIMB: Readonly<Record<End, readonly [string, string]>> = {
  leftFoot: ["leftUpperLeg", "leftLowerLeg"],
  rightFoot: ["rightUpperLeg", "rightLowerLeg"],
  leftHand: ["leftUpperArm", "leftLowerArm"],
  rightHand: ["rightUpperArm", "rightLowerArm"],
};

/**
 * Angles that keep hands and feet where they stood, and turned as they were, while the rest of the figure moves: of the
 * two bones of each limb and its end, degrees, intrinsic XYZ on top of rest.
 * @param before the moment in which they stand; @param after the moment in which the rest has moved.
 */
export function holdEnds(
  character: Character,
  before: Moment,
  after: Moment,
  ends: readonly End[],
): Record<string, Vec3> {
  const { skeleton } = character;
  if (!skeleton || ends.length === 0) return {};
  const map = humanoidMap(skeleton, character.jointMap);
  const was = evaluate(character, before);
  const now = evaluate(character, after);
  const out: Record<string, Vec3> = {};
  for (const end of ends) {
    const [root, middle, tip] = [...LIMB[end], end].map((b) => map.jointOfBone.get(b));
    if (root === undefined || middle === undefined || tip === undefined) continue;
    const target = translationOf(was.world!, 16 * tip);
    const turnOf = (e: Evaluated, j: number): Quat => decomposeTRS(e.world!, 16 * j).q;
    const at = (j: number): Vec3 => translationOf(now.world!, 16 * j);
    const pole = rotate(turnOf(now, tip), end.endsWith("Foot") ? [0, 0, 1] : [0, 0, -1]);
    const got = reach(
      {
        root: at(root),
        middle: at(middle),
        end: at(tip),
        rootTurn: turnOf(now, root),
        middleTurn: turnOf(now, middle),
      },
      target,
      pole,
    );
    // what stands between the bones keeps its place in what it hangs on
    const parentOf = (j: number): number => skeleton.joints[j]!.parent;
    const under = (joint: number, above: number, turned: Quat): Quat => {
      const parent = parentOf(joint);
      const still = multiplyQuat(conjugate(turnOf(now, above)), turnOf(now, parent));
      return multiplyQuat(turned, still);
    };
    const above: Quat = parentOf(root) === NO_JOINT ? [0, 0, 0, 1] : turnOf(now, parentOf(root));
    const set = (joint: number, parent: Quat, turn: Quat): void => {
      const { name, rotation } = skeleton.joints[joint]!;
      out[name] = toEulerXYZ(multiplyQuat(conjugate(rotation), multiplyQuat(conjugate(parent), turn)));
    };
    set(root, above, got.rootTurn);
    set(middle, under(middle, root, got.rootTurn), got.middleTurn);
    set(tip, under(tip, middle, got.middleTurn), turnOf(was, tip));
  }
  return out;
}
