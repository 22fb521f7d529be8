import { and, asc, eq, gte, sql } from "drizzle-orm";
import { decodeCharacter } from "../../core/formats/container";
import { applyStep, describeStep } from "../../core/ledger/applyStep";
import { LedgerStates } from "../../core/ledger/ledgerStates";
import { blobsOfStep, type Step } from "../../core/ledger/steps";
import type { Character } from "../../core/model/character";
import { UserError } from "../../core/model/userError";
import type { Db } from "../db/connect";
import { characters, steps } from "../db/schema";
import { getBlob, getBlobs, putBlob, sha256 } from "./blobs";

export interface LedgerEntry {
  readonly position: number;
  readonly step: Step;
  readonly sentence: string;
  readonly createdAt: string;
}

/** A ledger as it stands: all steps, how many are in force, and the name of the state they make. */
export interface Ledger {
  readonly entries: readonly LedgerEntry[];
  readonly head: number;
  readonly revision: number;
  readonly baseBlob: string;
  readonly state: string;
}

export const stateName = (baseBlob: string, inForce: readonly Step[]): string => sha256(`${baseBlob}\n${JSON.stringify(inForce)}`).slice(0, 32);

export async function readLedger(db: Db, characterId: string): Promise<Ledger | null> {
  const [character] = await db.select().from(characters).where(eq(characters.id, characterId));
  if (!character) return null;
  const rows = await db.select().from(steps).where(eq(steps.characterId, characterId)).orderBy(asc(steps.position));
  const entries = rows.map((r): LedgerEntry => ({ position: r.position, step: r.step, sentence: r.sentence, createdAt: r.createdAt.toISOString() }));
  return { entries, head: character.head, revision: character.revision, baseBlob: character.baseBlob, state: stateName(character.baseBlob, entries.slice(0, character.head).map((e) => e.step)) };
}

const bases = new Map<string, Character>();
const states = new LedgerStates(40);

/** The base of a character, decoded; the last few are kept. */
async function baseOf(db: Db, hash: string): Promise<Character> {
  const known = bases.get(hash);
  if (known) return known;
  const bytes = await getBlob(db, hash);
  if (!bytes) throw new UserError("The geometry of this character is missing from the database.", "", "Take the delivery in again.");
  const character = decodeCharacter(bytes);
  bases.set(hash, character);
  if (bases.size > 4) bases.delete(bases.keys().next().value!);
  return character;
}

/** The character after the steps in force. */
export async function currentCharacter(db: Db, ledger: Ledger): Promise<Character> {
  const inForce = ledger.entries.slice(0, ledger.head).map((e) => e.step);
  const blobs = await getBlobs(db, inForce.flatMap(blobsOfStep));
  return states.after(ledger.baseBlob, await baseOf(db, ledger.baseBlob), inForce, (h) => blobs.get(h));
}

/** Thrown when another window changed the ledger first. */
const conflict = (): UserError => new UserError("Another window changed this character meanwhile.", "", "Look at its change, then make yours again.");

/** Adds a step after the ones in force, with its geometry, in one transaction; returns the new revision. Steps undone before are dropped. */
export async function addStep(db: Db, characterId: string, revision: number, step: Step, blobBytes: readonly Uint8Array[]): Promise<number> {
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw new UserError("There is no such character.", "", "");
  if (ledger.revision !== revision) throw conflict();
  const given = new Map(blobBytes.map((b) => [sha256(b), b]));
  const stored = await getBlobs(db, blobsOfStep(step).filter((h) => !given.has(h)));
  applyStep(await currentCharacter(db, ledger), step, (h) => given.get(h) ?? stored.get(h));
  await db.transaction(async (tx) => {
    for (const bytes of given.values()) await putBlob(tx, bytes);
    const updated = await tx.update(characters).set({ head: ledger.head + 1, revision: revision + 1, changedAt: sql`now()` }).where(and(eq(characters.id, characterId), eq(characters.revision, revision))).returning({ id: characters.id });
    if (updated.length === 0) throw conflict();
    await tx.delete(steps).where(and(eq(steps.characterId, characterId), gte(steps.position, ledger.head)));
    await tx.insert(steps).values({ characterId, position: ledger.head, step, sentence: describeStep(step) });
  });
  return revision + 1;
}

/** Moves the head: negative undoes so many steps, positive redoes them. Stops at either end; returns the revision. */
export async function moveHead(db: Db, characterId: string, revision: number, by: number): Promise<number> {
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw new UserError("There is no such character.", "", "");
  if (ledger.revision !== revision) throw conflict();
  const head = Math.min(ledger.entries.length, Math.max(0, ledger.head + by));
  if (head === ledger.head) return revision;
  const updated = await db.update(characters).set({ head, revision: revision + 1, changedAt: sql`now()` }).where(and(eq(characters.id, characterId), eq(characters.revision, revision))).returning({ id: characters.id });
  if (updated.length === 0) throw conflict();
  return revision + 1;
}
