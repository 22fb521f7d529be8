import { sql } from "drizzle-orm";
import type { Db } from "../db/connect";

/**
 * Deletes the blobs that nothing refers to any more: no base, no hand-off, no trial, no step, not in a ledger nor in
 * a branch nor before a delivery; a sound that was made in the last two days stays in any case. Transactions that store
 * or refer to blobs hold a lock that this one waits for, so nothing that is being written is taken for dead.
 * @returns how many went, and their bytes.
 */
export async function collectBlobs(db: Db): Promise<{ count: number; bytes: number }> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`set local lock_timeout = '5s'`);
    await tx.execute(sql`lock table blobs in share row exclusive mode`);
    const gone = await tx.execute<{ size: string }>(sql`
      with named as (
        select base_blob as hash from characters
        union select before_blob from deliveries
        union select glb_blob from hand_offs
        union select (regexp_matches(step::text, '[0-9a-f]{64}', 'g'))[1] from steps
        union select (regexp_matches(steps::text, '[0-9a-f]{64}', 'g'))[1] from branches
        union select (regexp_matches(before::text, '[0-9a-f]{64}', 'g'))[1] from deliveries
        union select (regexp_matches(trial::text, '[0-9a-f]{64}', 'g'))[1] from arrangements
        union select hash from sounds where seen_at > now() - interval '2 days'
        union select (regexp_matches(replayed::text, '[0-9a-f]{64}', 'g'))[1] from deliveries
      )
      delete from blobs where not exists (select 1 from named where named.hash = blobs.hash) returning size`);
    return { count: gone.rows.length, bytes: gone.rows.reduce((n, r) => n + Number(r.size), 0) };
  });
}

/** Runs `collectBlobs` soon after it is asked for, once for many askings; a run that fails is left to the next one. */
export class BlobCollector {
  private timer: NodeJS.Timeout | null = null;
  private stopped = false;
  constructor(
    private readonly db: Db,
    private readonly failed: (error: unknown) => void,
    private readonly delayMs = 2000,
  ) {}

  ask(): void {
    if (this.timer || this.stopped) return;
    this.timer = setTimeout(() => {
      this.timer = null;
      collectBlobs(this.db).catch(this.failed);
    }, this.delayMs).unref();
  }

  stop(): void {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
  }
}
