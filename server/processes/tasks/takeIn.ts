import { statureOf } from "../../../core/measure/stature";
import type { Finding } from "../../../core/checks/finding";
import { PROFILES } from "../../../core/checks/profile";
import { runChecks } from "../../../core/checks/runChecks";
import { encodeCharacter } from "../../../core/formats/container";
import { readDelivery } from "../../../core/intake/readDelivery";
import { triangleCountOf, vertexCountOf, type Character } from "../../../core/model/character";
import { jointCount } from "../../../core/model/skinJoints";
import type { Tx } from "../../blobs/blobStore";
import type { Db } from "../../db/connect";
import type { DeliverySummary } from "../../db/schema";
import { storeDelivery } from "../../services/characters";
import { hashOfFiles, readSpooled, type SpooledFile } from "./spooledFiles";
import { poseDriven } from "../../../core/model/drivenShapes";

export const summaryOf = (character: Character): DeliverySummary => ({
  vertices: character.parts.reduce((n, p) => n + vertexCountOf(p), 0),
  triangles: character.parts.reduce((n, p) => n + triangleCountOf(p), 0),
  joints: jointCount(character),
  shapes: character.shapes.length,
  correctives: poseDriven(character).size,
  stature: statureOf(character),
  notes: character.notes,
});

/** Stores a character that is read already, with its findings. */
export const storeCharacter = (
  db: Db,
  character: Character,
  about: { role: string; fileName: string; fileHash: string; findings: Finding[] },
  id?: string,
  also?: (tx: Tx) => Promise<void>,
): Promise<string> =>
  storeDelivery(
    db,
    {
      name: character.name,
      ...about,
      base: encodeCharacter(character),
      summary: summaryOf(character),
      profile: "realtime",
    },
    id,
    also,
  );

/** Reads and checks dropped files and stores the character; the result names it. */
export async function takeIn(
  db: Db,
  { files: spooled }: { files: SpooledFile[] },
  tick: (done: number, total: number) => void,
): Promise<{ character: string }> {
  tick(0, 100);
  const files = await readSpooled(spooled);
  const { character, mainFile } = await readDelivery(files);
  tick(30, 100);
  const { findings } = await runChecks(character, PROFILES.realtime, {
    tick: (done, total) => tick(30 + (65 * done) / total, 100),
  });
  return {
    character: await storeCharacter(db, character, {
      role: "",
      fileName: mainFile,
      fileHash: hashOfFiles(files),
      findings,
    }),
  };
}
