import type { Finding } from "../../core/checks/finding";
import type { Db } from "../db/connect";
import { checkRuns } from "../db/schema";

/** Keeps the findings of a state, replacing what was kept for it. */
export async function keepCheckRun(
  db: Db,
  characterId: string,
  state: string,
  profile: string,
  findings: Finding[],
): Promise<void> {
  await db
    .insert(checkRuns)
    .values({ characterId, state, profile, findings })
    .onConflictDoUpdate({
      target: [checkRuns.characterId, checkRuns.state, checkRuns.profile],
      set: { findings, createdAt: new Date() },
    });
}
