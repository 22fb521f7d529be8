import { and, desc, eq, sql } from "drizzle-orm";
import type { Finding } from "../../core/checks/finding";
import { decodeCharacter } from "../../core/formats/container";
import type { DeliveryComparison } from "../../core/ledger/compareDeliveries";
import type { LedgerFile } from "../../core/ledger/ledgerFile";
import { deliveryNames } from "../../core/intake/relinkNames";
import type { ReplayedStep } from "../../core/ledger/replay";
import { blobsOfStep } from "../../core/ledger/steps";
import { UserError } from "../../core/model/userError";
import type { Db } from "../db/connect";
import { characters, checkRuns, deliveries, type BeforeDelivery, type DeliverySummary } from "../db/schema";
import { getBlob, getBlobs, holdBlobs, putBlob } from "../blobs/blobStore";
import { conflict, notThere } from "../refusals";
import { keepBranch } from "./branches";
import { readLedger, stateName } from "./ledger";
import { putSteps } from "./putSteps";

/** One later delivery, as the page lists it. */
export interface DeliveryEntry {
  readonly id: number;
  readonly fileName: string;
  readonly before: string;
  readonly comparison: DeliveryComparison;
  readonly replayed: readonly ReplayedStep[];
  readonly createdAt: string;
}

/** Later deliveries of a character, newest first. */
export async function listDeliveries(db: Db, characterId: string): Promise<DeliveryEntry[]> {
  const rows = await db
    .select()
    .from(deliveries)
    .where(eq(deliveries.characterId, characterId))
    .orderBy(desc(deliveries.id));
  return rows.map((r) => ({
    id: r.id,
    fileName: r.fileName,
    before: r.before.fileName,
    comparison: r.comparison,
    replayed: r.replayed,
    createdAt: r.createdAt.toISOString(),
  }));
}

export interface NextDelivery {
  readonly fileName: string;
  readonly fileHash: string;
  readonly base: Uint8Array;
  readonly summary: DeliverySummary;
  readonly comparison: DeliveryComparison;
  readonly replayed: readonly ReplayedStep[];
  readonly findings: Finding[];
  readonly profile: string;
}

/**
 * Puts a new delivery under a character: its base, the steps that could be applied, and what was before, in one
 * transaction. @throws UserError when the ledger changed meanwhile.
 */
export async function relinkCharacter(
  db: Db,
  characterId: string,
  revision: number,
  next: NextDelivery,
): Promise<void> {
  await db.transaction(async (tx) => {
    await holdBlobs(tx);
    const ledger = await readLedger(tx, characterId);
    const [row] = await tx.select().from(characters).where(eq(characters.id, characterId));
    if (!ledger || !row) throw notThere();
    const baseBlob = await putBlob(tx, next.base);
    const applied = next.replayed.filter((s) => s.outcome === "applied").map((s) => s.step);
    const updated = await tx
      .update(characters)
      .set({
        fileName: next.fileName.slice(0, 300),
        fileHash: next.fileHash,
        baseBlob,
        summary: next.summary,
        head: applied.length,
        revision: revision + 1,
        changedAt: sql`now()`,
      })
      .where(and(eq(characters.id, characterId), eq(characters.revision, revision)))
      .returning({ id: characters.id });
    if (updated.length === 0)
      throw new UserError("The character was changed while its delivery was read.", "", "Take the delivery in again.");
    const before: BeforeDelivery = {
      fileName: row.fileName,
      fileHash: row.fileHash,
      summary: row.summary,
      head: row.head,
      steps: ledger.entries.map((e) => e.step),
    };
    await tx
      .insert(deliveries)
      .values({
        characterId,
        fileName: next.fileName.slice(0, 300),
        comparison: next.comparison,
        replayed: [...next.replayed],
        before,
        beforeBlob: row.baseBlob,
      });
    await putSteps(tx, characterId, applied);
    const state = stateName(baseBlob, applied);
    await tx
      .insert(checkRuns)
      .values({ characterId, state, profile: next.profile, findings: next.findings })
      .onConflictDoUpdate({
        target: [checkRuns.characterId, checkRuns.state, checkRuns.profile],
        set: { findings: next.findings },
      });
  });
}

/** Settles a step that waits: applied later, as a step of its own, or dropped. @throws when it does not wait. */
export async function settleWaiting(
  db: Db,
  characterId: string,
  deliveryId: number,
  index: number,
  outcome: "applied later" | "dropped",
): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(deliveries)
      .where(and(eq(deliveries.characterId, characterId), eq(deliveries.id, deliveryId)))
      .for("update");
    if (row?.replayed[index]?.outcome !== "waits") throw notThere("This step does not wait any more.");
    await tx
      .update(deliveries)
      .set({ replayed: row.replayed.map((s, i) => (i === index ? { ...s, outcome } : s)) })
      .where(eq(deliveries.id, deliveryId));
  });
}

/**
 * Goes back to what stood before the newest delivery; that delivery is dropped, and steps made on it since are kept as
 * a branch.
 * @throws UserError when it is not the newest, Refused 409 when the ledger changed meanwhile.
 */
export async function dropDelivery(db: Db, characterId: string, deliveryId: number, revision: number): Promise<void> {
  await db.transaction(async (tx) => {
    await holdBlobs(tx);
    const [row] = await tx
      .select({ revision: characters.revision })
      .from(characters)
      .where(eq(characters.id, characterId))
      .for("update");
    if (!row) throw notThere();
    if (row.revision !== revision) throw conflict();
    const [newest] = await tx
      .select()
      .from(deliveries)
      .where(eq(deliveries.characterId, characterId))
      .orderBy(desc(deliveries.id))
      .limit(1);
    if (!newest || newest.id !== deliveryId)
      throw new UserError("Only the newest delivery can be taken back.", "", "Reload the page.");
    const { before, beforeBlob } = newest;
    const made = (await readLedger(tx, characterId))!.entries.map((e) => e.step);
    await keepBranch(
      tx,
      characterId,
      made,
      Math.min(made.length, newest.replayed.filter((s) => s.outcome === "applied").length),
    );
    await tx
      .update(characters)
      .set({
        fileName: before.fileName,
        fileHash: before.fileHash,
        baseBlob: beforeBlob,
        summary: before.summary,
        head: before.head,
        revision: revision + 1,
        changedAt: sql`now()`,
      })
      .where(eq(characters.id, characterId));
    await putSteps(tx, characterId, before.steps);
    await tx.delete(deliveries).where(eq(deliveries.id, deliveryId));
  });
}

/** The ledger as a file: steps in force, names of the delivery, geometry. */
export async function ledgerFileOf(db: Db, characterId: string): Promise<LedgerFile> {
  const ledger = await readLedger(db, characterId);
  const [row] = await db.select().from(characters).where(eq(characters.id, characterId));
  const base = ledger && (await getBlob(db, ledger.baseBlob));
  if (!ledger || !row || !base) throw notThere();
  const inForce = ledger.entries.slice(0, ledger.head).map((e) => e.step);
  const blobs = await getBlobs(db, inForce.flatMap(blobsOfStep));
  return {
    format: "yxomorph ledger",
    version: 1,
    character: row.name,
    names: deliveryNames(decodeCharacter(base)),
    steps: inForce,
    blobs: Object.fromEntries([...blobs].map(([hash, bytes]) => [hash, Buffer.from(bytes).toString("base64")])),
  };
}
