import { desc, eq, sql } from "drizzle-orm";
import type { ReadBack } from "../../core/ledger/handOff";
import type { Db } from "../db/connect";
import { characters, handOffs } from "../db/schema";
import { notThere } from "../refusals";
import { holdBlobs, putBlob } from "../blobs/blobStore";

/** What a hand-off proved, as printed on its slip. */
export interface Receipt {
  readonly fileName: string;
  readonly sha256: string;
  readonly bytes: number;
  readonly parts: number;
  readonly jointCount: number;
  readonly shapeCount: number;
  /** Shapes driven by joints. */
  readonly driverCount: number;
  /** Shapes set by other shapes; receipts of before do not say. */
  readonly combinationCount?: number;
  /** The sweep that the server made of this state for the receipt. */
  readonly swept?: { readonly motions: number; readonly angles: number; readonly over: number };
  /** What a plain glTF player does not play by itself. */
  readonly notPlayed?: readonly string[];
  readonly readBack: ReadBack;
  readonly validator: {
    readonly version: string;
    readonly errors: number;
    readonly warnings: number;
    readonly messages: readonly string[];
  };
  readonly openFindings: { readonly error: number; readonly warn: number; readonly note: number };
  readonly accepted: readonly { readonly what: string; readonly reason: string }[];
}

export interface HandOff {
  readonly id: number;
  readonly version: number;
  readonly head: number;
  readonly state: string;
  readonly glbBlob: string;
  readonly receipt: Receipt;
  /** Of the file of settings beside it. */
  readonly sidecarBytes: number;
  readonly createdAt: string;
}

/** Keeps a hand-off under the next version; hand-offs that end at once wait for each other. */
export async function keepHandOff(
  db: Db,
  row: { characterId: string; head: number; state: string; glb: Uint8Array; sidecar: string; receipt: Receipt },
): Promise<number> {
  return db.transaction(async (tx) => {
    await holdBlobs(tx);
    const glbBlob = await putBlob(tx, row.glb);
    const [owner] = await tx
      .select({ id: characters.id })
      .from(characters)
      .where(eq(characters.id, row.characterId))
      .for("update");
    if (!owner) throw notThere();
    const [last] = await tx
      .select({ version: sql<number>`coalesce(max(${handOffs.version}), 0)` })
      .from(handOffs)
      .where(eq(handOffs.characterId, row.characterId));
    const version = Number(last?.version ?? 0) + 1;
    await tx
      .insert(handOffs)
      .values({
        characterId: row.characterId,
        version,
        head: row.head,
        state: row.state,
        glbBlob,
        sidecar: row.sidecar,
        receipt: row.receipt,
      });
    return version;
  });
}

export async function listHandOffs(db: Db, characterId: string): Promise<HandOff[]> {
  const rows = await db
    .select()
    .from(handOffs)
    .where(eq(handOffs.characterId, characterId))
    .orderBy(desc(handOffs.version));
  return rows.map((r) => ({
    id: r.id,
    version: r.version,
    head: r.head,
    state: r.state,
    glbBlob: r.glbBlob,
    receipt: r.receipt,
    sidecarBytes: Buffer.byteLength(r.sidecar),
    createdAt: r.createdAt.toISOString(),
  }));
}

/** The newest hand-off: its version, and the steps and the state that went into it. */
export async function lastHandOff(
  db: Db,
  characterId: string,
): Promise<{ version: number; head: number; state: string } | null> {
  const { version, head, state } = handOffs;
  const [row] = await db
    .select({ version, head, state })
    .from(handOffs)
    .where(eq(handOffs.characterId, characterId))
    .orderBy(desc(version))
    .limit(1);
  return row ?? null;
}

export async function getHandOff(db: Db, id: number): Promise<typeof handOffs.$inferSelect | null> {
  return (await db.select().from(handOffs).where(eq(handOffs.id, id)))[0] ?? null;
}
