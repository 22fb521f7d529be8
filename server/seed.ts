import { CAST, loadOda } from "../demo/cast";
import { PROFILES } from "../core/checks/profile";
import { runChecks } from "../core/checks/runChecks";
import type { Db } from "./db/connect";
import { sha256 } from "./services/blobs";
import { hasCharacter } from "./services/characters";
import { storeCharacter } from "./jobs/takeIn";
import { encodeCharacter } from "../core/formats/container";

/** Loads the demo cast once; characters the user deleted or changed are left as they are on later starts only if still present. */
export async function seedCast(db: Db, say: (line: string) => void): Promise<void> {
  const [oda] = CAST;
  if (await hasCharacter(db, oda.id)) return;
  say("Making the demo cast (about half a minute, once)");
  const character = await loadOda();
  const { findings } = await runChecks(character, PROFILES.realtime);
  await storeCharacter(db, character, { role: oda.role, fileName: "oda.glb", fileHash: sha256(encodeCharacter(character)), findings }, oda.id);
}
