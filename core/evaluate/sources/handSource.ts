import { jointIndexOf } from "../../model/jointIndex";
import { readyShapes } from "../drivers/readyDrivers";
import type { Moment } from "../moment";
import { poseRotation } from "../poseSkeleton";
import { setTurn } from "../turns";
import type { LayOver } from "./sourceKind";

/**
 * What was set by hand: a joint's angles stand in place of what plays, weights add to it. Names that are gone say
 * nothing.
 */
export const layHand: LayOver<Pick<Moment, "pose" | "weights">> = ({ pose, weights }, character, draft) => {
  if (character.skeleton) {
    const index = jointIndexOf(character.skeleton);
    for (const name in pose) {
      const joint = index.get(name);
      if (joint !== undefined) setTurn(draft.turns, joint, poseRotation(pose, name));
    }
  }
  const { shapeIndex } = readyShapes(character);
  for (const name in weights) {
    const shape = shapeIndex.get(name);
    if (shape !== undefined) draft.weights[shape]! += weights[name]!;
  }
};
