import { eq } from "drizzle-orm";
import { PROFILES } from "../../../core/checks/profile";
import { runChecks } from "../../../core/checks/runChecks";
import type { Db } from "../../db/connect";
import { characters } from "../../db/schema";
import { conflict, notThere } from "../../refusals";
import { keepCheckRun } from "../../services/checkRuns";
import { currentCharacter, readLedger } from "../../services/ledger";

/** Checks between two looks at the ledger. */
const LOOKS_EVERY = 3;

/**
 * Checks the character as its ledger stands and keeps the findings for that state. @throws Refused when the ledger has
 * gone on meanwhile.
 */
export async function checkState(
  db: Db,
  { characterId, state }: { characterId: string; state: string },
  tick: (done: number, total: number) => void,
): Promise<{ findings: number }> {
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw notThere();
  if (ledger.state !== state) throw conflict();
  const { revision } = ledger;
  // a ledger that goes on makes the rest of the check worthless
  const onward = async (done: number, total: number): Promise<void> => {
    tick(done, total);
    if (done % LOOKS_EVERY !== 0) return;
    const [now] = await db
      .select({ revision: characters.revision })
      .from(characters)
      .where(eq(characters.id, characterId));
    if (now?.revision !== revision) throw conflict();
  };
  const { findings } = await runChecks(await currentCharacter(db, ledger), PROFILES.realtime, { tick: onward });
  await keepCheckRun(db, characterId, state, "realtime", findings);
  return { findings: findings.length };
}
