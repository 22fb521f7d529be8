import { parentPort } from "node:worker_threads";
import { expose } from "comlink";
import nodeEndpoint from "comlink/dist/esm/node-adapter.mjs";
import { JobHost } from "./jobHost";

/** Runs jobs in a Node thread. Other characters are known to their sender only. */
expose(
  new JobHost(() => Promise.reject(new Error("a thread of the command line knows one character"))),
  nodeEndpoint(parentPort!),
);
