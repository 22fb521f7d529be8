import type { Step } from "~core/ledger/steps";
import type { Character } from "~core/model/character";
import type { CharacterRef } from "~jobs/job";
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

export interface OtherCharacter {
  readonly ref: CharacterRef;
  readonly character: Character;
}

/** Another character of the cast as it stands now, and what jobs are told of it. */
export async function fetchCharacter(id: string): Promise<OtherCharacter> {
  const { baseBlob, steps } = (await ask(`/api/characters/${encodeURIComponent(id)}/state`, {})) as {
    baseBlob: string;
    steps: Step[];
  };
  return { ref: { baseBlob, steps }, character: await loadCharacter(baseBlob, steps) };
}
