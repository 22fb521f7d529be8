import { readyShapes } from "../drivers/readyDrivers";
import type { SpeechMoment } from "../moment";
import { addWeights, turnOnTop } from "./layOnTop";
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
  addWeights(weights, share, character, draft);
  turnOnTop(turns, share, character, draft);
};
