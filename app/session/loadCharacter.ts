import { wrap, type Remote } from "comlink";
import { patched } from "~core/ledger/characterPatch";
import type { Step } from "~core/ledger/steps";
import type { Character } from "~core/model/character";
import type { ReplayApi } from "~workers/replay.web";

let replayer: Remote<ReplayApi> | null = null;
/** The last character received for each base. */
const held = new Map<string, Character>();

/**
 * A character after its steps. They run in a worker; what a step leaves alone stays the same object from state to
 * state.
 */
export async function loadCharacter(baseBlob: string, steps: readonly Step[]): Promise<Character> {
  replayer ??= wrap<ReplayApi>(new Worker(new URL("../../workers/replay.web.ts", import.meta.url), { type: "module" }));
  // answers come in the order in which the worker sent them, so each patch meets the character it was made against
  const patch = await replayer.load(baseBlob, steps);
  const character = patched(held.get(baseBlob) ?? null, patch);
  held.set(baseBlob, character);
  return character;
}
