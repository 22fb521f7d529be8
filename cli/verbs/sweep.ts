import path from "node:path";
import { compareFindings } from "../../core/checks/finding";
import { summarize } from "../../core/checks/runChecks";
import { UserError } from "../../core/model/userError";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { jointMotions } from "../../core/skeleton/jointMotions";
import type { Swept } from "../../jobs/operations/sweep";
import { withNodeJobs } from "../../workers/nodeJobs";
import { profileFrom } from "../options";
import { readCharacter } from "../readCharacter";
import { table } from "../table";
import { printJson } from "../printJson";

function stepsFrom(text: string): number {
  const steps = Number(text);
  if (Number.isInteger(steps) && steps >= 2 && steps <= 721) return steps;
  throw new UserError(`"${text}" is not a whole number from 2 to 721.`, "--steps", "");
}

export async function sweep(
  file: string,
  options: { joint: string; steps: string; profile: string; json?: boolean },
): Promise<number> {
  const steps = stepsFrom(options.steps);
  const profile = profileFrom(options.profile);
  const { character, sha256 } = await readCharacter(file);
  if (!character.skeleton) throw new UserError("The file has no skeleton to move.", path.basename(file), "");
  const motions = jointMotions(character.skeleton, humanoidMap(character.skeleton, character.jointMap)).filter(
    (m) => options.joint === "all" || m.joint === options.joint || m.id.startsWith(`${options.joint}/`),
  );
  if (motions.length === 0)
    throw new UserError(
      `${options.joint} has no range of motion: it is not in the file or not in the humanoid map.`,
      "--joint",
      "See inspect.",
    );
  const swept = await withNodeJobs((pool) =>
    pool.share<"sweep", string, Swept>(
      character,
      "sweep",
      motions.map((m) => m.id),
      (some) => ({ motions: [...some], steps, method: "linear", profile }),
    ),
  );
  const rows = swept.flatMap((s) =>
    s.rows.map((r) => ({
      joint: r.joint,
      motion: r.motion,
      angle: r.angle,
      volume: r.with.volume,
      penetration: r.with.depth,
      stretch: r.with.stretch,
      flips: r.with.flips,
    })),
  );
  const findings = swept.flatMap((s) => s.findings).sort(compareFindings);
  const summary = summarize(findings);
  if (options.json)
    printJson({
      file: path.basename(file),
      sha256,
      profile: profile.name,
      units: { angle: "deg", volume: "share of rest", penetration: "mm", stretch: "ratio", flips: "faces" },
      rows,
      findings,
      summary,
    });
  else {
    process.stdout.write(
      `${table(
        ["joint", "motion", "angle, deg", "volume, %", "overlap, mm", "stretch", "flips"],
        rows.map((r) => [r.joint, r.motion, r.angle, 100 * r.volume, r.penetration, r.stretch, r.flips]),
      )}\n\n`,
    );
    for (const f of findings) process.stdout.write(`${f.severity}: ${f.message}\n`);
  }
  return summary.error > 0 ? 1 : 0;
}
