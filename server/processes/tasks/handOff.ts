import validator from "gltf-validator";
import { PROFILES } from "../../../core/checks/profile";
import { poseFindings } from "../../../core/checks/pose/poseFindings";
import { runChecks, summarize } from "../../../core/checks/runChecks";
import { makeRig } from "../../../core/deform/rig";
import { REST_MOMENT } from "../../../core/evaluate/moment";
import { sweepAll } from "../../../core/measure/sweepAll";
import { notPlayed } from "../../../core/ledger/notPlayed";
import { writeAndProve } from "../../../core/ledger/handOff";
import { jointCount } from "../../../core/model/skinJoints";
import { sha256 } from "../../blobs/blobStore";
import type { Db } from "../../db/connect";
import { notThere } from "../../refusals";
import { getCharacter, openFindings } from "../../services/characters";
import { keepCheckRun } from "../../services/checkRuns";
import { keepHandOff } from "../../services/handOffs";
import { currentCharacter, readLedger } from "../../services/ledger";
import { poseDriven } from "../../../core/model/drivenShapes";

/** Angles at which every motion is measured for the receipt. */
const ANGLES = 9;

/**
 * Writes the character as it stands, reads it back, validates and checks it, and keeps the version with its receipt.
 */
export async function handOff(
  db: Db,
  { characterId }: { characterId: string },
  tick: (done: number, total: number) => void,
): Promise<{ version: number }> {
  const row = await getCharacter(db, characterId);
  const ledger = await readLedger(db, characterId);
  if (!row || !ledger) throw notThere();
  const character = { ...(await currentCharacter(db, ledger)), name: row.name };
  const { glb, sidecar, readBack } = await writeAndProve(character, (done, total) => tick((60 * done) / total, 100));
  const report = await validator.validateBytes(glb);
  // the receipt tells what is open in exactly this state, whatever was checked before
  const rig = makeRig(character);
  const { findings } = await runChecks(character, PROFILES.realtime, {
    rig,
    tick: (done, total) => tick(62 + (16 * done) / total, 100),
  });
  const swept = await sweepAll(rig, ANGLES, REST_MOMENT, (done, total) => tick(80 + (19 * done) / total, 100));
  const pose = swept.flatMap(({ rows }) => poseFindings(rows, PROFILES.realtime));
  await keepCheckRun(db, characterId, ledger.state, "realtime", findings);
  const open = await openFindings(db, characterId, ledger);
  const version = await keepHandOff(db, {
    characterId,
    head: ledger.head,
    state: ledger.state,
    glb,
    sidecar,
    receipt: {
      fileName: `${characterId}.glb`,
      sha256: sha256(glb),
      bytes: glb.length,
      parts: character.parts.length,
      jointCount: jointCount(character),
      shapeCount: character.shapes.length,
      driverCount: poseDriven(character).size,
      readBack,
      validator: {
        version: report.validatorVersion,
        errors: report.issues.numErrors,
        warnings: report.issues.numWarnings,
        messages: report.issues.messages.slice(0, 20).map((m) => `${m.code}: ${m.message}`),
      },
      openFindings: summarize([...(open?.findings ?? []), ...pose]),
      combinationCount: character.shapeDrivers.length,
      swept: {
        motions: swept.length,
        angles: ANGLES,
        over: swept.filter(({ rows }) => poseFindings(rows, PROFILES.realtime).length > 0).length,
      },
      notPlayed: notPlayed(character),
      accepted: (open?.accepted ?? []).map(({ finding, reason }) => ({ what: finding.message, reason })),
    },
  });
  return { version };
}
