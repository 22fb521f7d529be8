import { randomUUID } from "node:crypto";
import type { Logger } from "pino";
import { isUserError } from "../../core/model/userError";
import { databaseLost } from "../db/connect";
import { JobCancelled } from "./runInWorker";

/** What a page sees of a running or finished job. */
export interface JobView {
  readonly id: string;
  readonly title: string;
  readonly state: "running" | "done" | "refused" | "cancelled";
  /** 0..1 */
  readonly progress: number;
  readonly error: { readonly what: string; readonly where: string; readonly todo: string } | null;
  readonly result: unknown;
}

interface Entry {
  view: JobView;
  cancel: () => void;
}

/** Running jobs of this server and, for ten minutes, finished ones. */
export class JobBoard {
  private readonly entries = new Map<string, Entry>();
  constructor(private readonly log: Logger) {}

  /** Starts work; `start` gets a progress callback and returns the promise and a way to cancel. */
  add(title: string, start: (progress: (share: number) => void) => { result: Promise<unknown>; cancel: () => void }): string {
    const id = randomUUID();
    const entry: Entry = { view: { id, title, state: "running", progress: 0, error: null, result: null }, cancel: () => {} };
    this.entries.set(id, entry);
    const { result, cancel } = start((share) => {
      entry.view = { ...entry.view, progress: Math.min(1, share) };
    });
    entry.cancel = cancel;
    result
      .then((value) => (entry.view = { ...entry.view, state: "done", progress: 1, result: value }))
      .catch((error: unknown) => {
        if (error instanceof JobCancelled) entry.view = { ...entry.view, state: "cancelled" };
        else {
          const told = isUserError(error) ? error : databaseLost(error);
          if (!told) this.log.error({ err: error }, `job failed: ${title}`);
          entry.view = { ...entry.view, state: "refused", error: told ? { what: told.what, where: told.where, todo: told.todo } : { what: "The program failed while working on this.", where: title, todo: "The fault is in the server's log." } };
        }
      })
      .finally(() => setTimeout(() => this.entries.delete(id), 600_000).unref());
    return id;
  }

  view(id: string): JobView | null {
    return this.entries.get(id)?.view ?? null;
  }

  cancel(id: string): void {
    this.entries.get(id)?.cancel();
  }
}
