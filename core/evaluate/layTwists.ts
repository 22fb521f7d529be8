import { fromAxisAngle, twistDegrees } from "../math/quat";
import { jointIndexOf } from "../model/jointIndex";
import type { Character } from "../model/character";
import type { TwistJoint } from "../model/twistJoint";
import type { Pose } from "./poseSkeleton";
import { setTurn, turnOf, type Turns } from "./turns";

interface Ready {
  readonly twist: TwistJoint;
  readonly joint: number;
  readonly of: number;
}
const known = new WeakMap<readonly TwistJoint[], { readonly joints: unknown; readonly ready: readonly Ready[] }>();

function readyTwists({ twistJoints, skeleton }: Character): readonly Ready[] {
  if (!twistJoints?.length || !skeleton) return [];
  const found = known.get(twistJoints);
  if (found?.joints === skeleton.joints) return found.ready;
  const index = jointIndexOf(skeleton);
  const ready = twistJoints.flatMap((twist): Ready[] => {
    const [joint, of] = [index.get(twist.joint), index.get(twist.of)];
    return joint === undefined || of === undefined ? [] : [{ twist, joint, of }];
  });
  known.set(twistJoints, { joints: skeleton.joints, ready });
  return ready;
}

/** Turns the twist joints by what the joints that they read are turned by; one whose angles are set by hand stays. */
export function layTwists(character: Character, hand: Pose, turns: Turns): void {
  for (const { twist, joint, of } of readyTwists(character))
    if (!hand[twist.joint])
      setTurn(turns, joint, fromAxisAngle(twist.about, twist.share * twistDegrees(turnOf(turns, of), twist.axis)));
}
