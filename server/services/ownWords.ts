import { eq } from "drizzle-orm";
import { ownWords } from "../db/schema";
import type { Db } from "../db/connect";

/** Pronunciations of one's own, by word. */
export async function listOwnWords(db: Db): Promise<Record<string, string>> {
  const rows = await db.select().from(ownWords).orderBy(ownWords.word);
  return Object.fromEntries(rows.map((r) => [r.word, r.phones]));
}

export const keepOwnWord = async (db: Db, word: string, phones: string): Promise<void> =>
  void (await db
    .insert(ownWords)
    .values({ word, phones })
    .onConflictDoUpdate({ target: ownWords.word, set: { phones, changedAt: new Date() } }));

export const dropOwnWord = async (db: Db, word: string): Promise<void> =>
  void (await db.delete(ownWords).where(eq(ownWords.word, word)));
