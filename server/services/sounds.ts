import { inArray } from "drizzle-orm";
import { putBlob } from "../blobs/blobStore";
import type { Db } from "../db/connect";
import { sounds } from "../db/schema";
import { LANES } from "../../core/trials/lanes";
import type { Trial } from "../../core/trials/trial";

/**
 * Keeps a sound, or a take as it came; it stays while a trial names it, and two days from now in any case.
 * @returns its hash.
 */
export const keepSound = (db: Db, wav: Uint8Array): Promise<string> =>
  db.transaction(async (tx) => {
    const hash = await putBlob(tx, wav);
    await tx
      .insert(sounds)
      .values({ hash })
      .onConflictDoUpdate({ target: sounds.hash, set: { seenAt: new Date() } });
    return hash;
  });

/** Sounds and takes of a trial that is let go stay two days, so that it can be taken back. */
export async function seeSounds(db: Pick<Db, "update">, trial: Trial): Promise<void> {
  const pieces = LANES.flatMap((lane) => trial.lanes[lane]);
  const hashes = pieces.flatMap((p) => (p.kind === "line" ? p.sound : p.kind === "take" ? p.raw : null) ?? []);
  if (hashes.length) await db.update(sounds).set({ seenAt: new Date() }).where(inArray(sounds.hash, hashes));
}
