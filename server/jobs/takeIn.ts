import { PROFILES } from "../../core/checks/profile";
import { statureOf } from "../../core/checks/delivery/scaleStature";
import { encodeCharacter } from "../../core/formats/container";
import type { DeliveryFile } from "../../core/formats/readDelivery";
import { triangleCountOf, vertexCountOf, type Character } from "../../core/model/character";
import type { Finding } from "../../core/checks/finding";
import type { Db } from "../db/connect";
import type { DeliverySummary } from "../db/schema";
import { sha256 } from "../services/blobs";
import { storeDelivery } from "../services/characters";
import { runInWorker } from "./runInWorker";

export const summaryOf = (character: Character): DeliverySummary => ({
  vertices: character.parts.reduce((n, p) => n + vertexCountOf(p), 0),
  triangles: character.parts.reduce((n, p) => n + triangleCountOf(p), 0),
  joints: character.skeleton?.joints.length ?? 0,
  shapes: character.shapes.length,
  correctives: character.drivers.length,
  stature: statureOf(character),
  notes: character.notes,
});

/** Stores a character that is read already, with its findings. */
export const storeCharacter = (db: Db, character: Character, about: { role: string; fileName: string; fileHash: string; findings: Finding[] }, id?: string): Promise<string> =>
  storeDelivery(db, { name: character.name, ...about, base: encodeCharacter(character), summary: summaryOf(character), profile: "realtime" }, id);

/** Reads and checks dropped files in a worker, then stores the character; the result names it. */
export function takeIn(db: Db, files: DeliveryFile[], progress: (share: number) => void): { result: Promise<{ character: string }>; cancel: () => void } {
  const job = runInWorker("read delivery", { files, profile: PROFILES.realtime }, (done, total) => progress((0.95 * done) / total));
  const fileHash = sha256(files.map((f) => sha256(f.bytes)).sort().join());
  return {
    cancel: job.cancel,
    result: job.result.then(async ({ character, mainFile, findings }) => ({ character: await storeCharacter(db, character, { role: "", fileName: mainFile, fileHash, findings }) })),
  };
}
