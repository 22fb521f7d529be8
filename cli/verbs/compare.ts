import path from "node:path";
import { compareDeliveries } from "../../core/ledger/compareDeliveries";
import { runChecks } from "../../core/checks/runChecks";
import { momentsOf, type WatchMoment } from "../../core/trials/moments";
import { profileFrom } from "../options";
import { printJson } from "../printJson";
import { readCharacter } from "../readCharacter";
import { table } from "../table";
import { compareChecks, compareMoments } from "../../core/trials/compare";
import { trialFrom, watchTrial, type TrialOptions } from "./watch";

/** Two files: what moved, came and went, findings that are gone and new, and a trial watched on both. */
export async function compare(
  a: string,
  b: string,
  options: TrialOptions & { profile: string; json?: boolean },
): Promise<number> {
  const [before, after] = [await readCharacter(a), await readCharacter(b)];
  const profile = profileFrom(options.profile);
  const changes = compareDeliveries(before.character, after.character);
  const findings = compareChecks(
    (await runChecks(before.character, profile)).findings,
    (await runChecks(after.character, profile)).findings,
  );
  const moments = options.trial || options.clip ? await momentsOfBoth([before, after], options) : null;
  if (options.json)
    printJson({ before: path.basename(a), after: path.basename(b), profile: profile.name, changes, findings, moments });
  else {
    const rows = [...findings.rows, ...(moments?.rows ?? [])];
    process.stdout.write(
      `${table(
        ["", "check", "where", "before", "after", "unit"],
        rows.map((r) => [r.change, r.check, r.place, r.before ?? "-", r.after ?? "-", r.unit]),
      )}\n`,
    );
  }
  const worse = [...findings.rows, ...(moments?.rows ?? [])].some(
    (r) => r.severity === "error" && (r.change === "new" || r.change === "worse"),
  );
  return worse ? 1 : 0;
}

async function momentsOfBoth(
  both: readonly Awaited<ReturnType<typeof readCharacter>>[],
  options: TrialOptions & { profile: string },
): Promise<ReturnType<typeof compareMoments>> {
  const read: WatchMoment[][] = [];
  for (const { character } of both) {
    const trial = trialFrom(character, options);
    read.push(momentsOf(await watchTrial(character, trial, options.profile), trial.fps));
  }
  return compareMoments(read[0]!, read[1]!);
}
