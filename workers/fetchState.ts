import type { Step } from "../core/ledger/steps";
import { fetchBlob } from "./fetchBlob";

/** A state of a character as the server has it: what it was delivered as, and the steps in force. */
export interface LedgerState {
  readonly baseBlob: string;
  readonly steps: readonly Step[];
}

/** A character that a worker begins with before it is asked for, and its state where that is known. */
export interface ExpectedCharacter {
  readonly id: string;
  readonly state: LedgerState | null;
}

/** The state of a character, its geometry on the way already. */
export async function fetchAhead({ id, state: known }: ExpectedCharacter): Promise<LedgerState> {
  const state = known ?? (await fetchState(id));
  // who needs it asks for it again, and is told what went wrong
  fetchBlob(state.baseBlob).catch(() => {});
  return state;
}

/** The present state of a character. @throws Error when the server does not answer or knows none. */
export async function fetchState(id: string): Promise<LedgerState> {
  const response = await fetch(`/api/characters/${encodeURIComponent(id)}/state`);
  if (!response.ok) throw new Error("The state of the character could not be fetched.");
  return (await response.json()) as LedgerState;
}
