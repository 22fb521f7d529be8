import type { Character } from "../model/character";
import { untold, type ShareDone } from "../model/shareDone";
import { UserError } from "../model/userError";
import { keepFollowing } from "../shapes/keepFollowing";
import { operationOf, type Step } from "./steps";

export type BlobSource = (hash: string) => Uint8Array | undefined;

/**
 * Applies one step, and lets what follows the skin for good follow again.
 * @param tell how much of a long step is done; not all tell it.
 * @throws UserError when it cannot; then nothing has changed.
 */
export function applyStep(character: Character, step: Step, blobs: BlobSource, tell: ShareDone = untold): Character {
  const blob = (hash: string): Uint8Array => {
    const bytes = blobs(hash);
    if (!bytes)
      throw new UserError("The geometry of the step is missing.", step.op, "Restore the database from a copy.");
    return bytes;
  };
  return keepFollowing(character, operationOf(step).apply(character, step, { blob, tell }));
}

/** Runs steps in order on a base. */
export const applySteps = (base: Character, steps: readonly Step[], blobs: BlobSource): Character =>
  steps.reduce((c, s) => applyStep(c, s, blobs), base);
