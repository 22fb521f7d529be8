import path from "node:path";
import { pairFindings } from "../../core/checks/pairs/pairFindings";
import {
  allPairs,
  pairedShapes,
  worstPairsFirst,
  type PairRow,
  type ShapePair,
} from "../../core/checks/pairs/readPairs";
import { summarize } from "../../core/checks/runChecks";
import { withNodeJobs } from "../../workers/nodeJobs";
import { profileFrom } from "../options";
import { readCharacter } from "../readCharacter";
import { table } from "../table";
import { printJson } from "../printJson";

/** The pair checks over all pairs of face shapes at full, worst first. */
export async function pairs(file: string, options: { profile: string; json?: boolean }): Promise<number> {
  const profile = profileFrom(options.profile);
  const { character, sha256 } = await readCharacter(file);
  const paired = pairedShapes(character);
  const all = allPairs(paired);
  const read = await withNodeJobs((pool) =>
    pool.share<"pairs", ShapePair, PairRow[]>(character, "pairs", all, (some) => ({ pairs: [...some], profile })),
  );
  const rows = worstPairsFirst(read.flat());
  const shapes = paired.map((s) => s.name);
  const findings = pairFindings(rows, profile);
  const summary = summarize(findings);
  if (options.json)
    printJson({
      file: path.basename(file),
      sha256,
      profile: profile.name,
      shapes,
      pairs: all.length,
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
      `${all.length} pairs of ${shapes.length} shapes; ${summary.error} ` +
        `errors, ${summary.warn} warnings by ${profile.name}\n`,
    );
  }
  return summary.error > 0 ? 1 : 0;
}
