import type { FaceMoment } from "../moment";
import { addWeights, turnOnTop } from "./layOnTop";
import type { LayOver } from "./sourceKind";

/**
 * A tracked face over what plays: its weights are added to expressions that are keyed, no shape beyond 1 by it; head
 * and eyes turn on top of what the body does.
 */
export const layFace: LayOver<FaceMoment> = ({ weights, turns, share = 1 }, character, draft) => {
  if (share <= 0) return;
  addWeights(weights, share, character, draft);
  turnOnTop(turns, share, character, draft);
};
