import type { Character } from "~core/model/character";
import type { LedgerState } from "~workers/fetchState";

const states = new WeakMap<Character, LedgerState>();

/** Notes which state a character is, so that a worker may make the same by itself. */
export const noteState = (character: Character, state: LedgerState): void => void states.set(character, state);

export function isState(character: Character, { baseBlob, steps }: LedgerState): boolean {
  const known = states.get(character);
  return known?.baseBlob === baseBlob && JSON.stringify(known.steps) === JSON.stringify(steps);
}
