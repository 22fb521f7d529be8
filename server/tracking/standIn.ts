import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";

export interface RunningStandIn {
  /** Where it can be reached on this machine. */
  readonly address: string;
  readonly close: () => Promise<void>;
}

const ENTRY = new URL("./standInThread.mjs", import.meta.url);

/**
 * Starts the tracker's stand-in on loopback, on a thread of its own so that its frames keep their time. Null where it
 * could not be started: everything else works without it.
 */
export function startStandInThread(port: number): Promise<RunningStandIn | null> {
  const worker = new Worker(fileURLToPath(ENTRY), { workerData: { port } });
  worker.unref();
  return new Promise((resolve) => {
    worker.once("message", (told: { port: number }) =>
      resolve({
        address: `ws://127.0.0.1:${told.port}`,
        close: async () => {
          await worker.terminate();
        },
      }),
    );
    worker.once("error", () => resolve(null));
    worker.once("exit", () => resolve(null));
  });
}
