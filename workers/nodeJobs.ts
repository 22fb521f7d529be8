import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import { wrap } from "comlink";
import nodeEndpoint from "comlink/dist/esm/node-adapter.mjs";
import { JobPool, type JobThread } from "./jobPool";
import { remoteThread } from "./remoteThread";
import type { JobHost } from "./jobHost";

const ENTRY = new URL("./jobs.thread.mjs", import.meta.url);
const MOST = 8;

/** Does work with Node threads that run jobs, one for each processor, and ends them with it. */
export async function withNodeJobs<T>(work: (pool: JobPool) => Promise<T>): Promise<T> {
  const threads: Worker[] = [];
  const start = (): JobThread => {
    const thread = new Worker(ENTRY);
    threads.push(thread);
    return remoteThread(wrap<JobHost>(nodeEndpoint(thread)));
  };
  try {
    return await work(new JobPool(start, Math.min(MOST, Math.max(2, availableParallelism()))));
  } finally {
    await Promise.all(threads.map((t) => t.terminate()));
  }
}
