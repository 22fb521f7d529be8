import { and, desc, eq, sql } from "drizzle-orm";
import { describeStep, type Step } from "../../core/ledger/steps";
import { UserError } from "../../core/model/userError";
import { holdBlobs, type Tx } from "../blobs/blobStore";
import type { Db } from "../db/connect";
import { branches, characters, steps } from "../db/schema";
import { conflict, notThere } from "../refusals";
import { putSteps } from "./putSteps";

/** Steps that are not in the ledger any more, as a page lists them. */
export interface BranchEntry {
  readonly id: number;
  readonly fileName: string;
  /** Steps of its own, that come after those it shared with the ledger when it was left. */
  readonly sentences: readonly string[];
  readonly fork: number;
  /** Whether it stands on the delivery that the character stands on now, and can be taken up. */
  readonly fits: boolean;
  readonly createdAt: string;
}

const same = (a: readonly Step[], b: readonly Step[]): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * Keeps a list of steps that is about to be left; one that is kept already, or begins another that is, is not kept
 * twice. @param fork how many of them go on to be in the ledger.
 */
export async function keepBranch(tx: Tx, characterId: string, list: readonly Step[], fork: number): Promise<void> {
  if (list.length <= fork) return;
  const [row] = await tx
    .select({ baseBlob: characters.baseBlob, fileName: characters.fileName })
    .from(characters)
    .where(eq(characters.id, characterId));
  if (!row) return;
  const kept = await tx
    .select({ id: branches.id, steps: branches.steps })
    .from(branches)
    .where(and(eq(branches.characterId, characterId), eq(branches.baseBlob, row.baseBlob)));
  // steps that stand in the table come back with their keys in another order than those of a window: they are compared
  // as the table holds them
  const stored = (await tx.execute<{ list: Step[] }>(sql`select ${JSON.stringify(list)}::jsonb as list`)).rows[0]!.list;
  if (kept.some((b) => same(b.steps.slice(0, stored.length), stored))) return;
  for (const b of kept)
    if (same(stored.slice(0, b.steps.length), b.steps)) await tx.delete(branches).where(eq(branches.id, b.id));
  await tx.insert(branches).values({ characterId, ...row, steps: [...list], fork });
}

/** Branches of a character, newest first. */
export async function listBranches(db: Db, characterId: string): Promise<BranchEntry[]> {
  const rows = await db
    .select({ branch: branches, base: characters.baseBlob })
    .from(branches)
    .innerJoin(characters, eq(characters.id, branches.characterId))
    .where(eq(branches.characterId, characterId))
    .orderBy(desc(branches.id));
  return rows.map(({ branch: b, base }) => ({
    id: b.id,
    fileName: b.fileName,
    sentences: b.steps.slice(b.fork).map(describeStep),
    fork: b.fork,
    fits: b.baseBlob === base,
    createdAt: b.createdAt.toISOString(),
  }));
}

/**
 * Puts the steps of a branch in place of the ledger, all in force; the ledger becomes a branch where it holds steps of
 * its own. @returns the revision.
 */
export async function takeUpBranch(db: Db, characterId: string, branchId: number, revision: number): Promise<number> {
  return db.transaction(async (tx) => {
    await holdBlobs(tx);
    const [branch] = await tx
      .select()
      .from(branches)
      .where(and(eq(branches.characterId, characterId), eq(branches.id, branchId)));
    const [row] = await tx.select().from(characters).where(eq(characters.id, characterId)).for("update");
    if (!row) throw notThere();
    if (!branch) throw notThere("These steps are not kept any more.");
    if (row.revision !== revision) throw conflict();
    if (row.baseBlob !== branch.baseBlob)
      throw new UserError(
        `These steps stand on ${branch.fileName}; the character stands on ${row.fileName}.`,
        "",
        "Take that delivery in again, then take the steps up.",
      );
    const now = (
      await tx
        .select({ step: steps.step })
        .from(steps)
        .where(eq(steps.characterId, characterId))
        .orderBy(steps.position)
    ).map((s) => s.step);
    const shared = branch.steps.findIndex((s, i) => JSON.stringify(s) !== JSON.stringify(now[i]));
    await tx.delete(branches).where(eq(branches.id, branchId));
    await keepBranch(tx, characterId, now, shared < 0 ? branch.steps.length : shared);
    await putSteps(tx, characterId, branch.steps);
    await tx
      .update(characters)
      .set({ head: branch.steps.length, revision: revision + 1, changedAt: sql`now()` })
      .where(eq(characters.id, characterId));
    return revision + 1;
  });
}

/** Forgets a branch for good. */
export async function dropBranch(db: Db, characterId: string, branchId: number): Promise<void> {
  const gone = await db
    .delete(branches)
    .where(and(eq(branches.characterId, characterId), eq(branches.id, branchId)))
    .returning({ id: branches.id });
  if (gone.length === 0) throw notThere("These steps are not kept any more.");
}
