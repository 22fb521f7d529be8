import { randomUUID } from "node:crypto";
import type { Logger } from "pino";
import { asWords, Refused, toldOf } from "../refusals";
import { TaskCancelled, type RunningTask } from "../processes/taskPool";

/** What a page sees of a running or finished job. */
export interface JobView {
  readonly id: string;
  readonly title: string;
  readonly state: "running" | "done" | "refused" | "cancelled";
  /** 0..1 */
  readonly progress: number;
  /** Jobs that come before this one; 0 when it runs. */
  readonly before: number;
  readonly error: { readonly what: string; readonly where: string; readonly todo: string } | null;
  readonly result: unknown;
}

const KEPT_MS = 600_000;

interface Entry {
  view: JobView;
  readonly file: string | null;
  cancel: () => void;
}
export interface JobReports {
  readonly progress: (done: number, total: number) => void;
  readonly place: (before: number) => void;
}

export interface JobExtras {
  /** Given by a page that wants to follow the job before it is answered. */
  readonly id?: string;
  /** Where its result is written. */
  readonly file?: string | null;
  /** Told when the job is known no more. */
  readonly forgotten?: () => void;
}

/**
 * Running jobs of this server and, for ten minutes, finished ones. What is reported of a job after its end changes
 * nothing.
 */
export class JobBoard {
  private readonly entries = new Map<string, Entry>();
  constructor(private readonly log: Logger) {}

  /**
   * Starts work; `start` gets what to report progress by and returns the promise and a way to cancel. @throws Refused
   * when another job has the id.
   */
  add(
    title: string,
    start: (reports: JobReports) => RunningTask<unknown>,
    { id = randomUUID(), file = null, forgotten = () => {} }: JobExtras = {},
  ): string {
    if (this.entries.has(id))
      throw new Refused(422, "A job of this name is known already.", "", "Send it with a name of its own.");
    const entry: Entry = {
      file,
      view: { id, title, state: "running", progress: 0, before: 0, error: null, result: null },
      cancel: () => {},
    };
    this.entries.set(id, entry);
    const change = (to: Partial<JobView>): void => {
      if (entry.view.state === "running") entry.view = { ...entry.view, ...to };
    };
    const { result, cancel } = start({
      progress: (done, total) => change({ progress: Math.min(1, done / total) }),
      place: (before) => change({ before }),
    });
    entry.cancel = cancel;
    result
      .then((value) => change({ state: "done", progress: 1, result: value }))
      .catch((error: unknown) => {
        if (error instanceof TaskCancelled) return change({ state: "cancelled" });
        const told = toldOf(error);
        if (!told) this.log.error({ err: error }, `job failed: ${title}`);
        change({
          state: "refused",
          error: told
            ? asWords(told)
            : {
                what: "The program failed while working on this.",
                where: title,
                todo: "The fault is in the server's log.",
              },
        });
      })
      .finally(() =>
        setTimeout(() => {
          this.entries.delete(id);
          forgotten();
        }, KEPT_MS).unref(),
      );
    return id;
  }

  view(id: string): JobView | null {
    return this.entries.get(id)?.view ?? null;
  }

  /** Where the result of a job lies that has ended well; null otherwise. */
  fileOf(id: string): string | null {
    const entry = this.entries.get(id);
    return entry?.view.state === "done" ? entry.file : null;
  }

  cancel(id: string): void {
    this.entries.get(id)?.cancel();
  }
}
