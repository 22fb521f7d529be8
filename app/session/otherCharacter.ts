import type { Step } from "~core/ledger/steps";
import type { Character } from "~core/model/character";
import { ask } from "./ledgerClient";
import { loadCharacter } from "./loadCharacter";

export interface CastEntry {
  readonly id: string;
  readonly name: string;
  readonly role: string;
}

/** Everyone in the cast. */
export const fetchCast = async (): Promise<CastEntry[]> =>
  ((await ask("/api/characters", {})) as { characters: CastEntry[] }).characters;

/** Another character of the cast as it stands now. */
export async function fetchCharacter(id: string): Promise<Character> {
  const { baseBlob, steps } = (await ask(`/api/characters/${encodeURIComponent(id)}/state`, {})) as {
    baseBlob: string;
    steps: Step[];
  };
  return loadCharacter(baseBlob, steps);
}
