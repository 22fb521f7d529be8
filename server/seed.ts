import { eq } from "drizzle-orm";
import { z } from "zod";
import { CAST, loadMember } from "../demo/cast";
import { PROFILES } from "../core/checks/profile";
import { runChecks } from "../core/checks/runChecks";
import { encodeCharacter } from "../core/formats/container";
import { sha256, type Tx } from "./blobs/blobStore";
import type { Db } from "./db/connect";
import { characters, settings } from "./db/schema";
import { seedLines } from "./seedLines";
import { storeCharacter } from "./processes/tasks/takeIn";

const KEY = "demo cast";
const stateSchema = z.object({ done: z.array(z.string()), whole: z.boolean() });
type SeedState = z.infer<typeof stateSchema>;

const keep = (tx: Pick<Tx, "insert">, value: SeedState) =>
  tx.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } });

/**
 * Loads the demo cast into a database that has never held a character. A start that ended in between is completed by
 * the next one; what a user deleted from the whole cast stays deleted.
 */
export async function seedCast(
  db: Db,
  say: (line: string) => void,
  members: readonly { readonly id: string; readonly role: string }[] = CAST,
  load = loadMember,
): Promise<void> {
  const [row] = await db.select().from(settings).where(eq(settings.key, KEY));
  let state = stateSchema.safeParse(row?.value).data ?? null;
  if (!state) {
    // databases from before this was remembered: one with characters has its cast
    const there = await db.select({ id: characters.id }).from(characters).limit(1);
    state = { done: [], whole: there.length > 0 };
    await keep(db, state);
  }
  if (state.whole) return;
  say(state.done.length ? "Completing the demo cast" : "Making the demo cast (about half a minute, once)");
  for (const { id, role } of members) {
    if (state.done.includes(id)) continue;
    const character = await load(id as never);
    const { findings } = await runChecks(character, PROFILES.realtime);
    const next: SeedState = { done: [...state.done, id], whole: false };
    await storeCharacter(
      db,
      character,
      { role, fileName: `${id}.glb`, fileHash: sha256(encodeCharacter(character)), findings },
      id,
      async (tx) => void (await keep(tx, next)),
    );
    await seedLines(db, id);
    state = next;
  }
  await keep(db, { ...state, whole: true });
}
