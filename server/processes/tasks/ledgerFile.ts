import { writeFile } from "node:fs/promises";
import type { Db } from "../../db/connect";
import { ledgerFileOf } from "../../services/deliveries";

/** Writes the ledger of a character, with names and geometry, as JSON. */
export async function ledgerFile(db: Db, { characterId, out }: { characterId: string; out: string }): Promise<void> {
  await writeFile(out, `${JSON.stringify(await ledgerFileOf(db, characterId), null, 1)}\n`);
}
