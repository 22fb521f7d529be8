import { multiplyQuat, slerp } from "../../math/quat";
import { jointIndexOf } from "../../model/jointIndex";
import { readyShapes } from "../drivers/readyDrivers";
import type { SpeechMoment } from "../moment";
import { poseRotation } from "../poseSkeleton";
import { setTurn, turnOf } from "../turns";
import type { LayOver } from "./sourceKind";

/**
 * A spoken line over what plays: shapes of the lips give way by what it asks for, its own weights are added, no shape
 * beyond 1 by it; the head turns on top of what the body does.
 */
export const laySpeech: LayOver<SpeechMoment> = (source, character, draft) => {
  const { weights, keep, givesWay, turns, share = 1 } = source;
  if (share <= 0) return;
  const { shapeIndex } = readyShapes(character);
  if (keep < 1)
    for (const name of givesWay) {
      const shape = shapeIndex.get(name);
      if (shape !== undefined) draft.weights[shape]! *= 1 - share * (1 - keep);
    }
  for (const name in weights) {
    const shape = shapeIndex.get(name);
    if (shape === undefined) continue;
    const before = draft.weights[shape]!;
    draft.weights[shape] = Math.max(before, Math.min(1, before + share * weights[name]!));
  }
  if (!character.skeleton) return;
  const index = jointIndexOf(character.skeleton);
  for (const name in turns) {
    const joint = index.get(name);
    if (joint === undefined) continue;
    const turn = multiplyQuat(turnOf(draft.turns, joint), poseRotation(turns, name));
    setTurn(draft.turns, joint, share < 1 ? slerp(turnOf(draft.turns, joint), turn, share) : turn);
  }
};
