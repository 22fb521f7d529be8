import path from "node:path";
import { pairFindings } from "../../core/checks/pairs/pairFindings";
import { pairRows } from "../../core/checks/pairs/readPairs";
import { summarize } from "../../core/checks/runChecks";
import { profileFrom } from "../options";
import { readCharacter } from "../readCharacter";
import { table } from "../table";
import { printJson } from "../printJson";

/** The pair checks over all pairs of face shapes at full, worst first. */
export async function pairs(file: string, options: { profile: string; json?: boolean }): Promise<number> {
  const profile = profileFrom(options.profile);
  const { character, sha256 } = await readCharacter(file);
  const { rows, shapes, pairCount } = await pairRows(character, profile);
  const findings = pairFindings(rows, profile);
  const summary = summarize(findings);
  if (options.json)
    printJson({
      file: path.basename(file),
      sha256,
      profile: profile.name,
      shapes,
      pairs: pairCount,
      rows,
      findings,
      summary,
    });
  else {
    process.stdout.write(
      `${table(
        ["first", "second", "measure", "together", "alone"],
        rows.slice(0, 40).map((r) => [r.a, r.b, r.measure, r.value, r.alone]),
      )}\n\n`,
    );
    process.stdout.write(
      `${pairCount} pairs of ${shapes.length} shapes; ${summary.error} ` +
        `errors, ${summary.warn} warnings by ${profile.name}\n`,
    );
  }
  return summary.error > 0 ? 1 : 0;
}
