import { parentPort, workerData } from "node:worker_threads";
import { isUserError } from "../core/model/userError";
import { runJobHere, type JobInput, type JobName } from "./jobTable";

/** Runs one job of the table in a Node worker thread and reports to the thread that made it. */
const { name, input } = workerData as { name: JobName; input: JobInput<JobName> };
runJobHere(name, input as never, (done, total) => parentPort!.postMessage({ kind: "progress", done, total }))
  .then((result) => parentPort!.postMessage({ kind: "done", result }))
  .catch((error: unknown) => {
    if (isUserError(error)) parentPort!.postMessage({ kind: "refused", what: error.what, where: error.where, todo: error.todo });
    else parentPort!.postMessage({ kind: "failed", stack: error instanceof Error ? (error.stack ?? error.message) : String(error) });
  });
