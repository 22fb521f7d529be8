import { PROFILES } from "../../../core/checks/profile";
import { runChecks } from "../../../core/checks/runChecks";
import { decodeCharacter, encodeCharacter } from "../../../core/formats/container";
import { readDelivery } from "../../../core/intake/readDelivery";
import { compareDeliveries } from "../../../core/ledger/compareDeliveries";
import { deliveryNames } from "../../../core/intake/relinkNames";
import { replay } from "../../../core/ledger/replay";
import { blobsOfStep } from "../../../core/ledger/steps";
import { UserError } from "../../../core/model/userError";
import { getBlob, getBlobs } from "../../blobs/blobStore";
import type { Db } from "../../db/connect";
import { notThere } from "../../refusals";
import { getCharacter } from "../../services/characters";
import { relinkCharacter } from "../../services/deliveries";
import { readLedger } from "../../services/ledger";
import { hashOfFiles, readSpooled, type SpooledFile } from "./spooledFiles";
import { summaryOf } from "./takeIn";

/** A delivery that shares less than this with the one before is another character. */
const LEAST_ALIKE = 0.4;

/** Takes in the next delivery of a character: compared with the one before, the ledger run on it, all or nothing. */
export async function relink(
  db: Db,
  { characterId, files: spooled }: { characterId: string; files: SpooledFile[] },
  tick: (done: number, total: number) => void,
): Promise<{ applied: number; waits: number }> {
  tick(0, 100);
  const row = await getCharacter(db, characterId);
  const ledger = await readLedger(db, characterId);
  const base = ledger && (await getBlob(db, ledger.baseBlob));
  if (!row || !ledger || !base) throw notThere();
  const steps = ledger.entries.slice(0, ledger.head).map((e) => e.step);
  const blobs = await getBlobs(db, steps.flatMap(blobsOfStep));
  const files = await readSpooled(spooled);
  const read = await readDelivery(files);
  tick(20, 100);
  const before = { ...decodeCharacter(base, "own"), name: row.name };
  const comparison = compareDeliveries(before, read.character);
  if (comparison.alike < LEAST_ALIKE)
    throw new UserError(
      `Only ${Math.round(100 * comparison.alike)} % of the parts, joints and shapes of ${before.name} are in it.`,
      read.mainFile,
      "Take it in as a character of its own on the cast page.",
    );
  const run = await replay(
    read.character,
    deliveryNames(before),
    steps,
    (h) => blobs.get(h),
    PROFILES.realtime,
    (done, total) => tick(25 + (35 * done) / total, 100),
  );
  const { findings } = await runChecks(run.character, PROFILES.realtime, {
    tick: (done, total) => tick(60 + (35 * done) / total, 100),
  });
  const named = { ...read.character, name: row.name };
  await relinkCharacter(db, characterId, ledger.revision, {
    fileName: read.mainFile,
    fileHash: hashOfFiles(files),
    base: encodeCharacter(named),
    summary: summaryOf(named),
    comparison,
    replayed: run.steps,
    findings,
    profile: "realtime",
  });
  return {
    applied: run.steps.filter((s) => s.outcome === "applied").length,
    waits: run.steps.filter((s) => s.outcome === "waits").length,
  };
}
