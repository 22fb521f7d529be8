import path from "node:path";
import { runChecks } from "../../core/checks/runChecks";
import { CHECKS } from "../../core/checks/entries";
import { UserError } from "../../core/model/userError";
import { profileFrom } from "../options";
import { readCharacterOrClips } from "../readCharacter";
import { table } from "../table";
import { printJson } from "../printJson";

export async function check(
  file: string,
  options: { profile: string; only?: string; json?: boolean },
): Promise<number> {
  const profile = profileFrom(options.profile);
  const only = options.only
    ?.split(",")
    .map((s) => s.trim())
    .filter(Boolean);
  if (only?.length === 0)
    throw new UserError("No check is named.", "--only", `Checks: ${CHECKS.map((c) => c.id).join(", ")}.`);
  const unknown = only?.find((id) => !CHECKS.some((c) => c.id === id));
  if (unknown)
    throw new UserError(`There is no check ${unknown}.`, "--only", `Checks: ${CHECKS.map((c) => c.id).join(", ")}.`);
  const { character, sha256 } = await readCharacterOrClips(file);
  // of a file that holds clips alone only its clips can be checked
  const asked = only ?? (character.parts.length ? undefined : CHECKS.map((c) => c.id).filter((c) => /^clip\./.test(c)));
  const run = await runChecks(character, profile, asked ? { only: asked } : {});
  if (options.json)
    printJson({
      file: path.basename(file),
      sha256,
      profile: profile.name,
      findings: run.findings,
      summary: run.summary,
    });
  else {
    if (run.findings.length)
      process.stdout.write(
        `${table(
          ["severity", "check", "value", "limit", "unit", "finding"],
          run.findings.map((f) => [
            f.severity,
            f.check,
            f.value === null ? "" : String(Number(f.value.toPrecision(4))),
            f.limit === null ? "" : String(f.limit),
            f.unit,
            f.message,
          ]),
        )}\n\n`,
      );
    process.stdout.write(
      `${run.summary.error} errors, ${run.summary.warn} warnings, ${run.summary.note} notes by ${profile.name}\n`,
    );
  }
  return run.summary.error > 0 ? 1 : 0;
}
