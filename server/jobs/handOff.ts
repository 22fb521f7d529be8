import validator from "gltf-validator";
import { summarize } from "../../core/checks/runChecks";
import { UserError } from "../../core/model/userError";
import type { Db } from "../db/connect";
import { sha256 } from "../services/blobs";
import { getCharacter, openFindings } from "../services/characters";
import { keepHandOff } from "../services/handOffs";
import { currentCharacter, readLedger } from "../services/ledger";
import { runInWorker } from "./runInWorker";

/** Writes the character as it stands, reads it back, validates, and keeps the version with its receipt. */
export function handOff(db: Db, characterId: string, progress: (share: number) => void): { result: Promise<{ version: number }>; cancel: () => void } {
  let cancel = (): void => {};
  const work = async (): Promise<{ version: number }> => {
    const row = await getCharacter(db, characterId);
    const ledger = await readLedger(db, characterId);
    if (!row || !ledger) throw new UserError("There is no such character.", "", "");
    const character = { ...(await currentCharacter(db, ledger)), name: row.name };
    const job = runInWorker("hand off", { character }, (done, total) => progress((0.9 * done) / total));
    cancel = job.cancel;
    const { glb, sidecar, readBack } = await job.result;
    const report = await validator.validateBytes(glb);
    const open = await openFindings(db, characterId);
    const version = await keepHandOff(db, {
      characterId, head: ledger.head, state: ledger.state, glb, sidecar,
      receipt: {
        fileName: `${characterId}.glb`, sha256: sha256(glb), bytes: glb.length,
        parts: character.parts.length, jointCount: character.skeleton?.joints.length ?? 0, shapeCount: character.shapes.length, driverCount: character.drivers.length,
        readBack,
        validator: { version: report.validatorVersion, errors: report.issues.numErrors, warnings: report.issues.numWarnings, messages: report.issues.messages.slice(0, 20).map((m) => `${m.code}: ${m.message}`) },
        openFindings: summarize([...(open?.findings ?? []), ...(open?.pose ?? [])]),
        accepted: (open?.accepted ?? []).map(({ finding, reason }) => ({ what: finding.message, reason })),
      },
    });
    return { version };
  };
  return { result: work(), cancel: () => cancel() };
}
