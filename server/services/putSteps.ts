import { eq } from "drizzle-orm";
import { describeStep, type Step } from "../../core/ledger/steps";
import type { Tx } from "../blobs/blobStore";
import { steps } from "../db/schema";

/** Puts a list of steps in place of the one that stands. */
export async function putSteps(tx: Tx, characterId: string, list: readonly Step[]): Promise<void> {
  await tx.delete(steps).where(eq(steps.characterId, characterId));
  if (list.length)
    await tx
      .insert(steps)
      .values(list.map((step, position) => ({ characterId, position, step, sentence: describeStep(step) })));
}
