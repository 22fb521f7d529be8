import type { BringOptions, BroughtTarget } from "~core/shapes/targets/bringTargets";
import { longRun, type LongRun } from "./measureClient";
import type { Loaded } from "./session";

/** Reads and fits target files off the main thread. */
export const bringFiles = (
  loaded: Loaded,
  files: readonly File[],
  options: BringOptions,
  progress: (share: number) => void,
): LongRun<BroughtTarget[]> =>
  longRun(
    loaded,
    async (api, tell, token) =>
      api.targets(
        await Promise.all(files.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) }))),
        options,
        tell,
        token,
      ),
    progress,
  );
