import { PROFILES } from "../../core/checks/profile";
import { decodeCharacter, encodeCharacter } from "../../core/formats/container";
import type { DeliveryFile } from "../../core/formats/readDelivery";
import { blobsOfStep } from "../../core/ledger/steps";
import { UserError } from "../../core/model/userError";
import type { Db } from "../db/connect";
import { getBlob, getBlobs, sha256 } from "../services/blobs";
import { getCharacter } from "../services/characters";
import { relinkCharacter } from "../services/deliveries";
import { readLedger } from "../services/ledger";
import { runInWorker } from "./runInWorker";
import { summaryOf } from "./takeIn";

/** Takes in the next delivery of a character: compared with the one before, the ledger run on it, all or nothing. */
export function relink(db: Db, characterId: string, files: DeliveryFile[], progress: (share: number) => void): { result: Promise<{ applied: number; waits: number }>; cancel: () => void } {
  let cancel = (): void => {};
  const work = async (): Promise<{ applied: number; waits: number }> => {
    const row = await getCharacter(db, characterId);
    const ledger = await readLedger(db, characterId);
    const base = ledger && (await getBlob(db, ledger.baseBlob));
    if (!row || !ledger || !base) throw new UserError("There is no such character.", "", "");
    const steps = ledger.entries.slice(0, ledger.head).map((e) => e.step);
    const blobs = await getBlobs(db, steps.flatMap(blobsOfStep));
    const job = runInWorker("relink", { files, before: { ...decodeCharacter(base), name: row.name }, steps, blobs, profile: PROFILES.realtime }, (done, total) => progress((0.95 * done) / total));
    cancel = job.cancel;
    const { character, mainFile, comparison, steps: replayed, findings } = await job.result;
    const named = { ...character, name: row.name };
    await relinkCharacter(db, characterId, ledger.revision, { fileName: mainFile, fileHash: sha256(files.map((f) => sha256(f.bytes)).sort().join()), base: encodeCharacter(named), summary: summaryOf(named), comparison, replayed, findings, profile: "realtime" });
    return { applied: replayed.filter((s) => s.outcome === "applied").length, waits: replayed.filter((s) => s.outcome === "waits").length };
  };
  return { result: work(), cancel: () => cancel() };
}
