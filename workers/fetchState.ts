import type { Step } from "../core/ledger/steps";

/** A state of a character as the server has it: what it was delivered as, and the steps in force. */
export interface LedgerState {
  readonly baseBlob: string;
  readonly steps: readonly Step[];
}

/** The present state of a character. @throws Error when the server does not answer or knows none. */
export async function fetchState(id: string): Promise<LedgerState> {
  const response = await fetch(`/api/characters/${encodeURIComponent(id)}/state`);
  if (!response.ok) throw new Error("The state of the character could not be fetched.");
  return (await response.json()) as LedgerState;
}
