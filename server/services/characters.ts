import { randomBytes } from "node:crypto";
import { and, desc, eq, inArray } from "drizzle-orm";
import { isDeepStrictEqual } from "node:util";
import type { Finding } from "../../core/checks/finding";
import { stationOfCheck } from "../../core/checks/stationOfCheck";
import type { Db } from "../db/connect";
import { characters, checkRuns, handOffs, trials, type DeliverySummary } from "../db/schema";
import { holdBlobs, putBlob, type Tx } from "../blobs/blobStore";
import { notThere } from "../refusals";
import { readLedger, stateName, type Ledger } from "./ledger";

/** A delivery that has been read and checked, ready to be stored. */
export interface ReadDelivery {
  readonly name: string;
  readonly role: string;
  readonly fileName: string;
  readonly fileHash: string;
  readonly base: Uint8Array;
  readonly summary: DeliverySummary;
  readonly profile: string;
  readonly findings: Finding[];
}

const slug = (name: string): string =>
  name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 40) || "character";

/** The beginning of a text, never half of a surrogate pair. */
const cut = (text: string, most: number): string => text.slice(0, most).replace(/\p{Surrogate}$/u, "");

/**
 * Stores a delivery whole or not at all; returns the new character's id. @param also what is to happen in the same
 * transaction.
 */
export async function storeDelivery(
  db: Db,
  delivery: ReadDelivery,
  id?: string,
  also: (tx: Tx) => Promise<void> = async () => {},
): Promise<string> {
  return db.transaction(async (tx) => {
    await holdBlobs(tx);
    const baseBlob = await putBlob(tx, delivery.base);
    const plain = id ?? slug(delivery.name);
    let chosen = plain;
    for (;;) {
      const made = await tx
        .insert(characters)
        .values({
          id: chosen,
          name: cut(delivery.name, 200),
          role: delivery.role,
          fileName: cut(delivery.fileName, 300),
          fileHash: delivery.fileHash,
          baseBlob,
          summary: delivery.summary,
        })
        .onConflictDoNothing()
        .returning({ id: characters.id });
      if (made.length) break;
      chosen = `${plain}-${randomBytes(3).toString("hex")}`;
    }
    await tx
      .insert(checkRuns)
      .values({
        characterId: chosen,
        state: stateName(baseBlob, []),
        profile: delivery.profile,
        findings: delivery.findings,
      });
    await also(tx);
    return chosen;
  });
}

export async function getCharacter(db: Db, id: string): Promise<typeof characters.$inferSelect | null> {
  return (await db.select().from(characters).where(eq(characters.id, id)))[0] ?? null;
}

/** Gives a character another name; its address stays. */
export async function renameCharacter(db: Db, id: string, name: string): Promise<void> {
  const named = await db
    .update(characters)
    .set({ name: cut(name, 200) })
    .where(eq(characters.id, id))
    .returning({ id: characters.id });
  if (named.length === 0) throw notThere();
}

/** Deletes a character with all that hangs on it; its geometry goes when it is collected. */
export async function deleteCharacter(db: Db, id: string): Promise<void> {
  const gone = await db.delete(characters).where(eq(characters.id, id)).returning({ id: characters.id });
  if (gone.length === 0) throw notThere();
}

/** State of the six stations, for the route in the header and the cards of the cast. */
export interface StationState {
  readonly intake: number;
  readonly skeleton: number;
  readonly shapes: number;
  readonly correctives: number;
  readonly trials: number | null;
  readonly handoff: number;
}

export interface CastCard {
  readonly id: string;
  readonly name: string;
  readonly role: string;
  /** What tells it from others of the same name: its file, or when it came; "" when the name is its own. */
  readonly apart: string;
  readonly baseBlob: string;
  readonly summary: DeliverySummary;
  readonly changedAt: string;
  readonly stations: StationState;
}

/** Findings that still stand: accepted ones are left out. */
export async function openFindings(
  db: Db,
  id: string,
  known?: Ledger,
): Promise<{
  findings: Finding[];
  accepted: { finding: Finding; reason: string }[];
  pose: Finding[];
  trialCount: number;
  handOffCount: number;
  correctiveCount: number;
  checked: boolean;
} | null> {
  const ledger = known ?? (await readLedger(db, id));
  if (!ledger) return null;
  const inForce = ledger.entries.slice(0, ledger.head).map((e) => e.step);
  const runs = await db
    .select()
    .from(checkRuns)
    .where(and(eq(checkRuns.characterId, id), inArray(checkRuns.state, [ledger.state, stateName(ledger.baseBlob, [])])))
    .orderBy(desc(checkRuns.createdAt));
  const run = runs.find((r) => r.state === ledger.state) ?? runs[0];
  // the last word on a place counts: accepted, or taken back
  const words = inForce.flatMap((s) => (s.op === "accept finding" || s.op === "reopen finding" ? [s] : [])).reverse();
  const reasonFor = (f: Finding): string | undefined => {
    const last = words.find((a) =>
      isDeepStrictEqual(
        [a.check, a.part, a.joint, a.shape, a.clip ?? null],
        [f.check, f.part, f.joint, f.shape, f.clip],
      ),
    );
    return last?.op === "accept finding" ? last.reason : undefined;
  };
  const all = run?.findings ?? [];
  const trialRows = await db
    .select()
    .from(trials)
    .where(and(eq(trials.characterId, id), eq(trials.state, ledger.state)));
  const handed = await db
    .select({ id: handOffs.id })
    .from(handOffs)
    .where(and(eq(handOffs.characterId, id), eq(handOffs.state, ledger.state)));
  const made = inForce.reduce(
    (n, s) => n + (s.op === "make correctives" ? s.items.length : s.op === "remove corrective" ? -1 : 0),
    0,
  );
  const [row] = await db.select({ summary: characters.summary }).from(characters).where(eq(characters.id, id));
  return {
    findings: all.filter((f) => reasonFor(f) === undefined),
    accepted: all.flatMap((f) => (reasonFor(f) === undefined ? [] : [{ finding: f, reason: reasonFor(f)! }])),
    pose: trialRows.flatMap((t) => t.findings),
    trialCount: trialRows.length,
    handOffCount: handed.length,
    correctiveCount: made + (row?.summary.correctives ?? 0),
    checked: runs.some((r) => r.state === ledger.state),
  };
}

/** State of the stations as far as the findings that stand tell it. */
export function stationsOf(open: Awaited<ReturnType<typeof openFindings>>): StationState {
  const of = (station: string): number =>
    (open?.findings ?? []).filter((f) => f.severity !== "note" && stationOfCheck(f.check) === station).length;
  return {
    intake: of("intake"),
    skeleton: of("skeleton"),
    shapes: of("shapes"),
    correctives: open?.correctiveCount ?? 0,
    trials: open && open.trialCount > 0 ? open.pose.length : null,
    handoff: open?.handOffCount ?? 0,
  };
}
export const stationState = async (db: Db, id: string): Promise<StationState> => stationsOf(await openFindings(db, id));

export async function listCast(db: Db): Promise<CastCard[]> {
  const rows = await db.select().from(characters).orderBy(desc(characters.changedAt));
  const apart = (c: (typeof rows)[number]): string => {
    const others = rows.filter((x) => x.name === c.name && x.id !== c.id);
    if (others.length === 0) return "";
    const came = c.createdAt.toISOString().slice(0, 16).replace("T", " ");
    return others.some((x) => x.fileName === c.fileName) ? `${c.fileName}, taken in ${came} UTC` : c.fileName;
  };
  return Promise.all(
    rows.map(async (c) => ({
      id: c.id,
      name: c.name,
      apart: apart(c),
      role: c.role,
      baseBlob: c.baseBlob,
      summary: c.summary,
      changedAt: c.changedAt.toISOString(),
      stations: await stationState(db, c.id),
    })),
  );
}
