import { CAST, loadMember } from "../demo/cast";
import { PROFILES } from "../core/checks/profile";
import { runChecks } from "../core/checks/runChecks";
import type { Db } from "./db/connect";
import { sha256 } from "./services/blobs";
import { listCast } from "./services/characters";
import { storeCharacter } from "./jobs/takeIn";
import { encodeCharacter } from "../core/formats/container";

/** Loads the demo cast into a database that holds no character yet; a start on one that does leaves everything as it is. */
export async function seedCast(db: Db, say: (line: string) => void): Promise<void> {
  if ((await listCast(db)).length > 0) return;
  say("Making the demo cast (about half a minute, once)");
  for (const { id, role } of CAST) {
    const character = await loadMember(id);
    const { findings } = await runChecks(character, PROFILES.realtime);
    await storeCharacter(db, character, { role, fileName: `${id}.glb`, fileHash: sha256(encodeCharacter(character)), findings }, id);
  }
}
