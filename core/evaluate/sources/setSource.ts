import { slerp } from "../../math/quat";
import { jointIndexOf } from "../../model/jointIndex";
import { readyShapes } from "../drivers/readyDrivers";
import type { MomentSource } from "../moment";
import { poseRotation } from "../poseSkeleton";
import { setTurn, turnOf } from "../turns";
import type { LayOver } from "./sourceKind";

/** Angles, weights and a place that something else has worked out, as keys of one's own at a time. */
export const laySet: LayOver<MomentSource & { kind: "set" }> = (source, character, draft) => {
  const { pose, weights, travel, share = 1 } = source;
  if (share <= 0) return;
  if (character.skeleton) {
    const index = jointIndexOf(character.skeleton);
    for (const name in pose) {
      const joint = index.get(name);
      if (joint === undefined) continue;
      const turn = poseRotation(pose, name);
      setTurn(draft.turns, joint, share < 1 ? slerp(turnOf(draft.turns, joint), turn, share) : turn);
    }
    const carried = travel && index.get(travel.joint);
    if (carried !== undefined) {
      draft.travels = true;
      for (let c = 0; c < 3; c++) {
        const old = draft.travel[3 * carried + c]!;
        draft.travel[3 * carried + c] = old + share * (travel!.by[c]! - old);
      }
    }
  }
  const { shapeIndex } = readyShapes(character);
  for (const name in weights) {
    const shape = shapeIndex.get(name);
    if (shape !== undefined) draft.weights[shape]! += share * weights[name]!;
  }
};
