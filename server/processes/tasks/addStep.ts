import { readFile } from "node:fs/promises";
import { z } from "zod";
import { decodeContainer } from "../../../core/formats/container";
import { stepSchema } from "../../../core/ledger/steps";
import type { Db } from "../../db/connect";
import { parsed, sound } from "../../parsed";
import { addStep, type TakenStep } from "../../services/ledger";
import type { Progress } from "../tasks";

const bodySchema = z.object({
  step: stepSchema,
  revision: z.number().int(),
  key: z.string().min(8).max(100).optional(),
  blobs: z.array(z.instanceof(Uint8Array)).max(2000),
});

/** Takes a step as it was posted, and left in a file. */
export async function addStepTask(
  db: Db,
  { characterId, body }: { characterId: string; body: string },
  tick: Progress,
): Promise<TakenStep> {
  const bytes = await readFile(body);
  const given = decodeContainer(new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length), "own");
  const { step, revision, blobs, key } = parsed(bodySchema, given);
  return addStep(db, characterId, { step: sound(step), revision, blobs, key }, (share) => tick(share, 1));
}
