import { wrap } from "comlink";
import type { JobInput, JobName, JobOutput } from "~jobs/jobs";
import type { JobHost } from "~workers/jobHost";
import { remoteThread } from "~workers/remoteThread";
import type { Loaded } from "../session";
import { JobPool, type JobOptions, type JobThread } from "~workers/jobPool";

const MOST = 4;

/** A web worker of its own. */
function webThread(): JobThread {
  const worker = new Worker(new URL("../../../workers/jobs.web.ts", import.meta.url), { type: "module" });
  return remoteThread(wrap<JobHost>(worker));
}

let pool: JobPool | null = null;
const thePool = (): JobPool =>
  (pool ??= new JobPool(webThread, Math.min(MOST, Math.max(2, (navigator.hardwareConcurrency || 2) - 1))));

/** An answer on the character of the desk that somebody waits for: a reading, a preview. */
export const askJob = <N extends JobName>(loaded: Loaded, name: N, input: JobInput<N>): Promise<JobOutput<N>> =>
  thePool().ask(loaded.character, name, input);

/** Long work on the character of the desk. */
export const startJob = <N extends JobName>(
  loaded: Loaded,
  name: N,
  input: JobInput<N>,
  options: JobOptions,
): Promise<JobOutput<N>> => thePool().run(loaded.character, name, input, options);

/** Long work on many items, one answer each. */
export const shareJob = <N extends JobName, I, O>(
  loaded: Loaded,
  name: N,
  items: readonly I[],
  inputOf: (items: readonly I[]) => JobInput<N>,
  options: JobOptions,
): Promise<O[]> => thePool().share<N, I, O>(loaded.character, name, items, inputOf, options);
