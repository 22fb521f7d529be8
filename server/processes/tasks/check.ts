import { PROFILES } from "../../../core/checks/profile";
import { runChecks } from "../../../core/checks/runChecks";
import type { Db } from "../../db/connect";
import { conflict, notThere } from "../../refusals";
import { keepCheckRun } from "../../services/checkRuns";
import { currentCharacter, readLedger } from "../../services/ledger";

/** Checks the character as its ledger stands and keeps the findings for that state. @throws Refused when the ledger has gone on meanwhile. */
export async function checkState(db: Db, { characterId, state }: { characterId: string; state: string }, tick: (done: number, total: number) => void): Promise<{ findings: number }> {
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw notThere();
  if (ledger.state !== state) throw conflict();
  const { findings } = await runChecks(await currentCharacter(db, ledger), PROFILES.realtime, { tick });
  await keepCheckRun(db, characterId, state, "realtime", findings);
  return { findings: findings.length };
}
