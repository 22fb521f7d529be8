import { readFile, writeFile } from "node:fs/promises";
import { z } from "zod";
import { decodeContainer, encodeContainer } from "../../../core/formats/container";
import { makeContext } from "../../../jobs/context";
import { JOBS, type JobName } from "../../../jobs/jobs";
import { runJob } from "../../../jobs/runJob";
import type { Db } from "../../db/connect";
import { parsed } from "../../parsed";
import { conflict, notThere } from "../../refusals";
import { characterAfter, currentCharacter, readLedger } from "../../services/ledger";
import type { Progress } from "../tasks";

const bodySchema = z.object({
  /** Of the character: what was asked of an earlier one is of no use to anybody. */
  state: z.string().max(100),
  job: z.enum(Object.keys(JOBS) as [JobName, ...JobName[]]),
  input: z.unknown(),
});

/**
 * Runs a job on a character as it stands: state, name and input are in one file, the result is written into another.
 */
export async function runJobTask(
  db: Db,
  { characterId, body, out }: { characterId: string; body: string; out: string },
  tick: Progress,
): Promise<void> {
  const bytes = await readFile(body);
  const given = decodeContainer(new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length), "own");
  const { state, job, input } = parsed(bodySchema, given);
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw notThere();
  if (ledger.state !== state) throw conflict();
  const context = makeContext(await currentCharacter(db, ledger), null, (ref) =>
    characterAfter(db, ref.baseBlob, ref.steps),
  );
  await writeFile(out, encodeContainer({ result: await runJob(job, context, input as never, tick) }));
}
