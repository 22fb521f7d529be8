import path from "node:path";
import { profileFrom } from "../options";
import { readLedgerFile } from "../../core/ledger/ledgerFile";
import { replay as replaySteps, type Outcome } from "../../core/ledger/replay";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { UserError } from "../../core/model/userError";
import { readBytes, readCharacter } from "../readCharacter";
import { table } from "../table";
import { writeOut } from "../writeOut";
import { printJson } from "../printJson";

/** Runs a ledger on another delivery and writes what comes of it; 1 when a step waits. */
export async function replay(
  ledgerFile: string,
  options: { on: string; out: string; profile: string; json?: boolean },
): Promise<number> {
  if (path.extname(options.out).toLowerCase() !== ".glb")
    throw new UserError(
      `A replay is written as GLB, not ${path.extname(options.out) || "without a kind"}.`,
      path.basename(options.out),
      "Name it OUT.glb.",
    );
  const text = new TextDecoder().decode(readBytes(ledgerFile));
  const ledger = readLedgerFile(text, path.basename(ledgerFile));
  const { character, sha256 } = await readCharacter(options.on);
  const blobs = new Map(
    Object.entries(ledger.blobs).map(([hash, base64]) => [hash, new Uint8Array(Buffer.from(base64, "base64"))]),
  );
  const run = await replaySteps(
    character,
    ledger.names,
    ledger.steps,
    (hash) => blobs.get(hash),
    profileFrom(options.profile),
  );
  writeOut(options.out, await writeGlb(run.character));
  const count = (outcome: Outcome): number => run.steps.filter((s) => s.outcome === outcome).length;
  const summary = { applied: count("applied"), notNeeded: count("not needed"), waits: count("waits") };
  if (options.json)
    printJson({
      ledger: path.basename(ledgerFile),
      file: path.basename(options.on),
      sha256,
      out: path.basename(options.out),
      steps: run.steps.map(({ sentence, outcome, note }) => ({ sentence, outcome, note })),
      summary,
    });
  else
    process.stdout.write(
      `${table(
        ["step", "outcome", "note"],
        run.steps.map((s) => [s.sentence, s.outcome, s.note]),
      )}\n\n${summary.applied} applied, ${summary.notNeeded} not needed, ${summary.waits} waiting\n`,
    );
  return summary.waits > 0 ? 1 : 0;
}
