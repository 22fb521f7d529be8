import { LedgerStates } from "../core/ledger/ledgerStates";
import type { Step } from "../core/ledger/steps";
import type { Holding } from "../core/model/arrayBytes";
import type { Character } from "../core/model/character";
import { blobsOfSteps } from "./blobsOfSteps";

const MB = 1048576;
const MOST_STATES = 60;
const states = new LedgerStates(MOST_STATES, 256 * MB);

/** A character after steps, with the geometry they refer to fetched. @throws UserError when one cannot be applied. */
export async function afterSteps(baseBlob: string, base: Character, steps: readonly Step[]): Promise<Character> {
  const bytes = await blobsOfSteps(steps);
  return states.after(baseBlob, base, steps, (h) => bytes.get(h));
}
export const statesHolding = (): Holding => states.holding();
