import { Worker } from "node:worker_threads";
import { UserError } from "../../core/model/userError";
import type { JobInput, JobName, JobOutput } from "../../workers/jobTable";

type Report = { kind: "progress"; done: number; total: number } | { kind: "done"; result: unknown } | { kind: "refused"; what: string; where: string; todo: string } | { kind: "failed"; stack: string };

/** Thrown to the waiter of a job that was cancelled. */
export class JobCancelled extends Error {}

/** Runs a job of the table in a worker thread of its own. `cancel` ends the thread at once. */
export function runInWorker<N extends JobName>(name: N, input: JobInput<N>, progress: (done: number, total: number) => void): { result: Promise<JobOutput<N>>; cancel: () => void } {
  const worker = new Worker(new URL("../../workers/node.mjs", import.meta.url), { workerData: { name, input }, execArgv: [] });
  let cancelled = false;
  const result = new Promise<JobOutput<N>>((resolve, reject) => {
    worker.on("message", (report: Report) => {
      if (report.kind === "progress") progress(report.done, report.total);
      else if (report.kind === "done") resolve(report.result as JobOutput<N>);
      else if (report.kind === "refused") reject(new UserError(report.what, report.where, report.todo));
      else reject(new Error(report.stack));
    });
    worker.on("error", reject);
    worker.on("exit", () => reject(cancelled ? new JobCancelled() : new Error(`the worker of "${name}" ended without a result`)));
  });
  return {
    result,
    cancel: () => {
      cancelled = true;
      void worker.terminate();
    },
  };
}
