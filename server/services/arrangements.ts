import { and, desc, eq, sql } from "drizzle-orm";
import { trialSchema, type Trial } from "../../core/trials/trial";
import type { Db } from "../db/connect";
import { arrangements, characters } from "../db/schema";
import { notThere, Refused } from "../refusals";
import { seeSounds } from "./sounds";

export interface Arrangement {
  readonly id: string;
  /** The character it was made with, and its name. */
  readonly characterId: string;
  readonly of: string;
  readonly trial: Trial;
  readonly revision: number;
}

/**
 * Every kept trial, the last changed first: each can be played on any character. What trials of an earlier version lack
 * is filled in; one that cannot be read any more is left out, and stays kept.
 */
export async function listArrangements(db: Db): Promise<Arrangement[]> {
  const rows = await db
    .select({
      id: arrangements.id,
      characterId: arrangements.characterId,
      of: characters.name,
      trial: arrangements.trial,
      revision: arrangements.revision,
    })
    .from(arrangements)
    .innerJoin(characters, eq(arrangements.characterId, characters.id))
    .orderBy(desc(arrangements.changedAt));
  return rows.flatMap((row) => {
    const read = trialSchema.safeParse(row.trial);
    return read.success ? [{ ...row, trial: read.data }] : [];
  });
}

/**
 * Keeps a trial. @param revision of the one that was changed, 0 for a new one. @returns its revision now. @throws
 * Refused
 * 409 when another window changed it meanwhile.
 */
export async function keepArrangement(
  db: Db,
  id: string,
  characterId: string,
  trial: Trial,
  revision: number,
): Promise<number> {
  if (revision === 0) {
    const made = await db.insert(arrangements).values({ id, characterId, trial }).onConflictDoNothing().returning();
    if (made[0]) return made[0].revision;
  }
  const changed = await db
    .update(arrangements)
    .set({ trial, revision: sql`${arrangements.revision} + 1`, changedAt: new Date() })
    .where(and(eq(arrangements.id, id), eq(arrangements.revision, revision)))
    .returning();
  if (changed[0]) return changed[0].revision;
  const [known] = await db.select().from(arrangements).where(eq(arrangements.id, id));
  if (!known) throw notThere("This trial is not kept any more.");
  throw new Refused(
    409,
    "Another window changed this trial meanwhile.",
    known.trial.name,
    "Reload the page to see it, or keep yours under another name.",
  );
}

export async function dropArrangement(db: Db, id: string): Promise<void> {
  const gone = await db.delete(arrangements).where(eq(arrangements.id, id)).returning();
  if (!gone[0]) throw notThere("This trial is not kept any more.");
  await seeSounds(db, gone[0].trial);
}
