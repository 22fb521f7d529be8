import { proxy, type Remote } from "comlink";
import type { JobHost } from "./jobHost";
import type { JobThread } from "./jobPool";

/** A host of jobs in another thread, as a pool reaches it. */
export const remoteThread = (host: Remote<JobHost>): JobThread => ({
  load: (patch) => host.load(patch),
  run: ((name, input, progress, token) =>
    host.run(name, input as never, progress && proxy(progress), token)) as JobThread["run"],
  cancel: (token) => host.cancel(token),
});
