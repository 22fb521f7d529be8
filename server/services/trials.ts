import { and, eq } from "drizzle-orm";
import type { Finding } from "../../core/checks/finding";
import type { SweepRow } from "../../core/measure/sweepMotion";
import type { Db } from "../db/connect";
import { trials } from "../db/schema";

export interface TrialResult {
  readonly motion: string;
  readonly method: string;
  readonly rows: SweepRow[];
  readonly findings: Finding[];
}

/** Sweeps kept for one state of a character. */
export async function readTrials(db: Db, characterId: string, state: string): Promise<TrialResult[]> {
  const rows = await db
    .select()
    .from(trials)
    .where(and(eq(trials.characterId, characterId), eq(trials.state, state)));
  return rows
    .map(({ motion, method, rows, findings }) => ({ motion, method, rows, findings }))
    .sort((a, b) => a.motion.localeCompare(b.motion));
}

export async function keepTrial(db: Db, characterId: string, state: string, trial: TrialResult): Promise<void> {
  await db
    .insert(trials)
    .values({ characterId, state, ...trial })
    .onConflictDoUpdate({
      target: [trials.characterId, trials.state, trials.motion, trials.method],
      set: { rows: trial.rows, findings: trial.findings, createdAt: new Date() },
    });
}
