import { multiplyQuat, slerp } from "../../math/quat";
import type { Character } from "../../model/character";
import { jointIndexOf } from "../../model/jointIndex";
import { readyShapes } from "../drivers/readyDrivers";
import { poseRotation, type Pose } from "../poseSkeleton";
import { setTurn, turnOf } from "../turns";
import type { Draft } from "./sourceKind";

/** Weights that are added to what plays; no shape goes beyond 1 by it. */
export function addWeights(
  weights: Readonly<Record<string, number>>,
  share: number,
  character: Character,
  draft: Draft,
): void {
  const { shapeIndex } = readyShapes(character);
  for (const name in weights) {
    const shape = shapeIndex.get(name);
    if (shape === undefined) continue;
    const before = draft.weights[shape]!;
    draft.weights[shape] = Math.max(before, Math.min(1, before + share * weights[name]!));
  }
}

/** Joints turned on top of what plays. */
export function turnOnTop(turns: Pose, share: number, { skeleton }: Character, draft: Draft): void {
  if (!skeleton) return;
  const index = jointIndexOf(skeleton);
  for (const name in turns) {
    const joint = index.get(name);
    if (joint === undefined) continue;
    const turn = multiplyQuat(turnOf(draft.turns, joint), poseRotation(turns, name));
    setTurn(draft.turns, joint, share < 1 ? slerp(turnOf(draft.turns, joint), turn, share) : turn);
  }
}
