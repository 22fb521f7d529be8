import type { Tick } from "../core/measure/sweepMotion";

/** Thrown by a tick once its job was cancelled. */
export class JobCancelled extends Error {
  override message = "cancelled";
}

const REPORT_MS = 60;
/** Lets messages in; a timer of zero would wait for 4 ms once such waits are nested. */
const breathe = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

/** Lets messages in between steps, so that a cancel arrives; reports at most every 60 ms. */
export function makeTick(progress: (share: number) => void, cancelled: () => boolean): Tick {
  let last = 0;
  return async (done, total) => {
    if (Date.now() - last > REPORT_MS || done === total) {
      last = Date.now();
      progress(total > 0 ? Math.min(1, done / total) : 1);
      await breathe();
    }
    if (cancelled()) throw new JobCancelled();
  };
}
