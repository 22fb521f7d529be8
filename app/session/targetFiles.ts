import type { BringOptions, BroughtTarget } from "~core/wrap/targets/bringTargets";
import type { JobOptions } from "~workers/jobPool";
import { givenFile } from "./jobs/givenFile";
import { startJob } from "./jobs/pageJobs";
import type { Loaded } from "./session";

/** Reads and fits target files off the main thread. */
export async function bringFiles(
  loaded: Loaded,
  files: readonly File[],
  { layOnScans = false, ...smoothing }: BringOptions,
  options: JobOptions,
): Promise<BroughtTarget[]> {
  return startJob(
    loaded,
    "bring targets",
    { files: await Promise.all(files.map(givenFile)), ...smoothing, layOnScans },
    options,
  );
}
