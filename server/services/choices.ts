import { eq } from "drizzle-orm";
import type { Db } from "../db/connect";
import { choices } from "../db/schema";

/** What this server was told to use under a name; undefined where it was told nothing. */
export async function readChoice(db: Db, key: string): Promise<unknown> {
  const [row] = await db.select().from(choices).where(eq(choices.key, key));
  return row?.value;
}

export const keepChoice = async (db: Db, key: string, value: unknown): Promise<void> =>
  void (await db
    .insert(choices)
    .values({ key, value })
    .onConflictDoUpdate({ target: choices.key, set: { value, changedAt: new Date() } }));

export const dropChoice = async (db: Db, key: string): Promise<void> =>
  void (await db.delete(choices).where(eq(choices.key, key)));
