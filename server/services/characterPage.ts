import type { Db } from "../db/connect";
import { notThere } from "../refusals";
import { listBranches } from "./branches";
import { getCharacter, openFindings, stationsOf } from "./characters";
import { listDeliveries } from "./deliveries";
import { lastHandOff } from "./handOffs";
import { readLedger, stateName, type Ledger } from "./ledger";
import { listArrangements } from "./arrangements";
import { readTrials } from "./trials";

/** Everything the six stations share: the character's row, its ledger, findings and trials of the present state. */
export async function characterPage(db: Db, id: string) {
  const [character, ledger] = await Promise.all([getCharacter(db, id), readLedger(db, id)]);
  if (!character || !ledger) throw notThere();
  const [open, deliveries, trials, branches, arrangements, handOff] = await Promise.all([
    openFindings(db, id, ledger),
    listDeliveries(db, id),
    readTrials(db, id, ledger.state),
    listBranches(db, id),
    listArrangements(db),
    lastHandOff(db, id),
  ]);
  if (!open) throw notThere();
  return {
    character: {
      id: character.id,
      name: character.name,
      role: character.role,
      fileName: character.fileName,
      fileHash: character.fileHash,
      summary: character.summary,
    },
    ledger,
    branches,
    deliveries,
    trials,
    arrangements,
    handedOff: handOff && inLedger(handOff, ledger) ? handOff : null,
    findings: open.findings,
    accepted: open.accepted,
    poseFindings: open.pose,
    trialCount: open.trialCount,
    checked: open.checked,
    stations: stationsOf(open),
  };
}

/** Whether a state that was handed off is one that the ledger still goes through. */
const inLedger = (of: { head: number; state: string }, { baseBlob, entries }: Ledger): boolean =>
  of.head <= entries.length &&
  stateName(
    baseBlob,
    entries.slice(0, of.head).map((e) => e.step),
  ) === of.state;

/** As a page has it. */
export type CharacterPage = Awaited<ReturnType<typeof characterPage>> & { readonly uploadLimitMb: number };
