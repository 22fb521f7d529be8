import { and, asc, eq, gte, sql } from "drizzle-orm";
import { decodeCharacter } from "../../core/formats/container";
import { applyStep } from "../../core/ledger/applyStep";
import { LedgerStates } from "../../core/ledger/ledgerStates";
import { blobsOfStep, describeStep, type Step } from "../../core/ledger/steps";
import { madeTextures } from "../../core/edits/textures/madeTextures";
import { assertCharacter } from "../../core/model/assertCharacter";
import type { Character } from "../../core/model/character";
import { untold, type ShareDone } from "../../core/model/shareDone";
import { isUserError, UserError } from "../../core/model/userError";
import { getBlob, getBlobs, holdBlobs, missingBlobs, putBlob, sha256 } from "../blobs/blobStore";
import type { Db } from "../db/connect";
import { characters, stepKeys, steps } from "../db/schema";
import { conflict, notThere, Refused } from "../refusals";
import { keepBranch } from "./branches";

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

export const stateName = (baseBlob: string, inForce: readonly Step[]): string =>
  sha256(`${baseBlob}\n${JSON.stringify(inForce)}`).slice(0, 32);

export async function readLedger(db: Pick<Db, "select">, characterId: string): Promise<Ledger | null> {
  const [character] = await db.select().from(characters).where(eq(characters.id, characterId));
  if (!character) return null;
  const rows = await db.select().from(steps).where(eq(steps.characterId, characterId)).orderBy(asc(steps.position));
  const entries = rows.map((r): LedgerEntry => ({
    position: r.position,
    step: r.step,
    sentence: r.sentence,
    createdAt: r.createdAt.toISOString(),
  }));
  return {
    entries,
    head: character.head,
    revision: character.revision,
    baseBlob: character.baseBlob,
    state: stateName(
      character.baseBlob,
      entries.slice(0, character.head).map((e) => e.step),
    ),
  };
}

const bases = new Map<string, Character>();
const MB = 1048576;
const states = new LedgerStates(40, 512 * MB);

/** The base of a character, decoded; the last few are kept. */
async function baseOf(db: Db, hash: string): Promise<Character> {
  const known = bases.get(hash);
  if (known) return known;
  const bytes = await getBlob(db, hash);
  if (!bytes)
    throw new UserError(
      "The geometry of this character is missing from the database.",
      "",
      "Take the delivery in again.",
    );
  const character = decodeCharacter(bytes, "own");
  bases.set(hash, character);
  if (bases.size > 4) bases.delete(bases.keys().next().value!);
  return character;
}

/** The character after the steps in force. */
export const currentCharacter = (db: Db, ledger: Ledger): Promise<Character> =>
  characterAfter(
    db,
    ledger.baseBlob,
    ledger.entries.slice(0, ledger.head).map((e) => e.step),
  );

/** What a base becomes by steps. @param baseBlob its hash. */
export async function characterAfter(db: Db, baseBlob: string, inForce: readonly Step[]): Promise<Character> {
  const base = await baseOf(db, baseBlob);
  const held = (): number => states.held(baseBlob, inForce);
  for (;;) {
    // only the geometry of steps that are run anew is fetched; what is held may be let go while it comes
    const from = held();
    const blobs = await getBlobs(db, inForce.slice(from).flatMap(blobsOfStep));
    if (held() >= from) return states.after(baseBlob, base, inForce, (h) => blobs.get(h));
  }
}

/** A step as it comes from a window. */
export interface NewStep {
  readonly step: Step;
  /** The revision of the ledger that it was made on. */
  readonly revision: number;
  /** Geometry that the step refers to by hash and that may not be stored yet. */
  readonly blobs: readonly Uint8Array[];
  /** Made by the window, the same whenever the same step is sent again. */
  readonly key?: string | undefined;
}
export interface TakenStep {
  readonly revision: number;
  /** Steps that stood after the head before and are kept as a branch now. */
  readonly branched: number;
}

/** What a step of this key got when it was taken before. @throws Refused when another step came with it. */
async function takenBefore(
  db: Pick<Db, "select">,
  characterId: string,
  key: string,
  stepHash: string,
): Promise<TakenStep | null> {
  const [known] = await db
    .select()
    .from(stepKeys)
    .where(and(eq(stepKeys.characterId, characterId), eq(stepKeys.key, key)));
  if (!known) return null;
  if (known.stepHash !== stepHash)
    throw new Refused(
      409,
      "An earlier form of this change was taken already.",
      "",
      "It is in the ledger. Undo it there, or keep this one as a change of its own.",
    );
  return { revision: known.revision, branched: 0 };
}

/** Refuses geometry that does not fit, before anything is kept. */
function proveStep(
  character: Character,
  step: Step,
  blob: (hash: string) => Uint8Array | undefined,
  tell: ShareDone,
): Character {
  const after = applyStep(character, step, blob, tell);
  try {
    assertCharacter(after);
  } catch (error) {
    if (isUserError(error)) throw error;
    throw new UserError(
      `The change would leave the character broken (${(error as Error).message.replace(/^assertCharacter: /, "")}).`,
      step.op,
      "Make it again; if it comes again, keep the file and tell us.",
    );
  }
  return after;
}

/**
 * The step as it is kept: with the textures that it made, where it made nothing else, so that nobody has to make them
 * again. Their bytes join what is stored.
 */
function withTextures(step: Step, before: Character, after: Character, given: Map<string, Uint8Array>): Step {
  if (step.op !== "mend" && step.op !== "repair") return step;
  const made = madeTextures(before, after);
  if (!made?.length) return step;
  return {
    ...step,
    made: made.map(({ material, bytes }) => {
      const blob = sha256(bytes);
      given.set(blob, bytes);
      return { material, blob };
    }),
  };
}

/**
 * The step as it is kept, once it has been applied to the state it comes after. @param given its geometry by hash;
 * textures that it makes join it. @throws UserError when it cannot be applied, or geometry came that is not its own.
 */
async function proven(
  db: Db,
  ledger: Ledger,
  step: Step,
  given: Map<string, Uint8Array>,
  tell: ShareDone,
): Promise<Step> {
  const wanted = new Set(blobsOfStep(step));
  if ([...given.keys()].some((h) => !wanted.has(h)))
    throw new UserError(
      "Geometry came that the step does not refer to.",
      step.op,
      "Reload the page and make the change again.",
    );
  const stored = await getBlobs(
    db,
    [...wanted].filter((h) => !given.has(h)),
  );
  const now = await currentCharacter(db, ledger);
  const after = proveStep(now, step, (h) => given.get(h) ?? stored.get(h), tell);
  return withTextures(step, now, after, given);
}

/**
 * Adds a step after the ones in force, with its geometry, in one transaction. Steps undone before are kept as a branch.
 * A step that comes again with its key is answered as the first time.
 * @param tell how much of the step is done, where it takes long.
 * @throws Refused 409 when the ledger changed meanwhile, UserError when the step cannot be applied; then nothing has
 * changed.
 */
export async function addStep(
  db: Db,
  characterId: string,
  { step: sent, revision, blobs: blobBytes, key }: NewStep,
  tell: ShareDone = untold,
): Promise<TakenStep> {
  // what a step makes is made here
  const step: Step = sent.op === "mend" || sent.op === "repair" ? { ...sent, made: undefined } : sent;
  const stepHash = sha256(JSON.stringify(step));
  const before = key === undefined ? null : await takenBefore(db, characterId, key, stepHash);
  if (before) return before;
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw notThere();
  if (ledger.revision !== revision) throw conflict();
  const given = new Map(blobBytes.map((b) => [sha256(b), b]));
  const taken = await proven(db, ledger, step, given, tell);
  return db.transaction(async (tx) => {
    await holdBlobs(tx);
    for (const bytes of given.values()) await putBlob(tx, bytes);
    const gone = await missingBlobs(tx, blobsOfStep(taken));
    if (gone.length)
      throw new UserError("The geometry of the step is no longer stored.", step.op, "Make the change again.");
    if (!(await setHead(tx, characterId, revision, ledger.head + 1))) {
      // the same step may have come twice at once
      const twin = key === undefined ? null : await takenBefore(tx, characterId, key, stepHash);
      if (twin) return twin;
      throw conflict();
    }
    const branched = ledger.entries.length - ledger.head;
    if (branched > 0)
      await keepBranch(
        tx,
        characterId,
        ledger.entries.map((e) => e.step),
        ledger.head,
      );
    await tx.delete(steps).where(and(eq(steps.characterId, characterId), gte(steps.position, ledger.head)));
    await tx.insert(steps).values({ characterId, position: ledger.head, step: taken, sentence: describeStep(taken) });
    if (key !== undefined) await tx.insert(stepKeys).values({ characterId, key, stepHash, revision: revision + 1 });
    return { revision: revision + 1, branched };
  });
}

/** Moves the head: negative undoes so many steps, positive redoes them. Stops at either end; returns the revision. */
export async function moveHead(db: Db, characterId: string, revision: number, by: number): Promise<number> {
  const ledger = await readLedger(db, characterId);
  if (!ledger) throw notThere();
  if (ledger.revision !== revision) throw conflict();
  const head = Math.min(ledger.entries.length, Math.max(0, ledger.head + by));
  if (head === ledger.head) return revision;
  if (!(await setHead(db, characterId, revision, head))) throw conflict();
  return revision + 1;
}

/** Sets how many steps are in force. @returns false when the ledger is at another revision by now. */
async function setHead(db: Pick<Db, "update">, characterId: string, revision: number, head: number): Promise<boolean> {
  const updated = await db
    .update(characters)
    .set({ head, revision: revision + 1, changedAt: sql`now()` })
    .where(and(eq(characters.id, characterId), eq(characters.revision, revision)))
    .returning({ id: characters.id });
  return updated.length > 0;
}
