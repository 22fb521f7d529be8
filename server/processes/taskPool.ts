import { fork, type ChildProcess } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { UserError } from "../../core/model/userError";
import { Refused } from "../refusals";
import type { TaskInput, TaskName, TaskOutput } from "./tasks";

/** What a child process says of its task. */
export type Report =
  | { readonly kind: "ready" }
  | { readonly kind: "progress"; readonly done: number; readonly total: number }
  | { readonly kind: "done"; readonly result: unknown }
  | {
      readonly kind: "refused";
      readonly status: number;
      readonly what: string;
      readonly where: string;
      readonly todo: string;
    }
  | { readonly kind: "failed"; readonly stack: string };

/** Thrown to the waiter of a task that was cancelled. */
export class TaskCancelled extends Error {}

export interface PoolSettings {
  /** Processes at the most; tasks beyond that wait in the order in which they came. */
  readonly size: number;
  /** Resident memory at which a process is ended, bytes. */
  readonly memoryBytes: number;
  /** Time after which a task is ended, ms. */
  readonly timeMs: number;
  /** Environment of the processes, beside the server's own. */
  readonly env: Readonly<Record<string, string>>;
}
export interface TaskOptions {
  readonly progress?: (done: number, total: number) => void;
  /** Told how many tasks run or wait before this one whenever that changes; 0 when it runs. */
  readonly place?: (before: number) => void;
  /** Tasks of one key run one at a time. */
  readonly key?: string;
  /** What the task works on, for the words when it takes the process down. */
  readonly title: string;
}
export interface RunningTask<T> {
  readonly result: Promise<T>;
  readonly cancel: () => void;
}

interface Task {
  readonly name: TaskName;
  readonly input: unknown;
  readonly options: TaskOptions;
  readonly resolve: (value: never) => void;
  readonly reject: (error: unknown) => void;
}
interface Child {
  readonly process: ChildProcess;
  task: Task | null;
  /** Whether it has started and listens. */
  ready: boolean;
  startedAt: number;
  /** Why the pool ended it, if it did. */
  ended: "memory" | "time" | "cancelled" | null;
  idleSince: number;
  /** Key of its last task: what that worked on may still be held there. */
  lastKey: string | undefined;
}

const ENTRY = fileURLToPath(new URL("./child.mjs", import.meta.url));
const WATCH_MS = 150;
const IDLE_MS = 300_000;
/** A process that does not listen by then never will. */
const START_MS = 60_000;
const PAGE = 4096;
const mb = (bytes: number): string => `${Math.round(bytes / 1048576)} MB`;

/** Resident memory of a process, bytes; 0 where it cannot be told. */
export function residentBytes(pid: number): number {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, "utf8").split(" ")[1]) * PAGE;
  } catch {
    return 0;
  }
}

/**
 * Runs tasks in child processes, so that nothing a file holds can take the server down: a process that uses too much
 * memory or time, or that dies, is ended alone, and its task is refused with the name of what it worked on. Processes
 * are kept for the next task.
 */
export class TaskPool {
  private readonly children = new Set<Child>();
  private waiting: Task[] = [];
  private closed = false;
  private readonly watch: NodeJS.Timeout;

  constructor(private readonly settings: PoolSettings) {
    this.watch = setInterval(() => this.look(), WATCH_MS).unref();
  }

  run<N extends TaskName>(name: N, input: TaskInput<N>, options: TaskOptions): RunningTask<TaskOutput<N>> {
    let task!: Task;
    const result = new Promise<TaskOutput<N>>((resolve, reject) => {
      task = { name, input, options, resolve: resolve as Task["resolve"], reject };
    });
    if (this.closed) task.reject(new Refused(503, "The server is stopping.", "", "Try again in a moment."));
    else {
      this.waiting.push(task);
      this.next();
    }
    return { result, cancel: () => this.cancel(task) };
  }

  /** Starts a process beforehand, so that the first task does not wait for it. */
  warm(): void {
    if (!this.closed && this.children.size === 0) this.spawn();
  }

  close(): void {
    this.closed = true;
    clearInterval(this.watch);
    for (const task of this.waiting) task.reject(new TaskCancelled());
    this.waiting = [];
    for (const child of this.children) this.end(child, "cancelled");
  }

  private cancel(task: Task): void {
    if (this.waiting.includes(task)) {
      this.waiting = this.waiting.filter((t) => t !== task);
      task.reject(new TaskCancelled());
      this.tellPlaces();
      return;
    }
    for (const child of this.children) if (child.task === task) this.end(child, "cancelled");
  }

  private end(child: Child, why: NonNullable<Child["ended"]>): void {
    child.ended ??= why;
    child.process.kill("SIGKILL");
  }

  private spawn(): Child {
    const { memoryBytes, env } = this.settings;
    const heap = Math.max(64, Math.round(memoryBytes / 1048576));
    const made = fork(ENTRY, [], {
      serialization: "advanced",
      execArgv: [`--max-old-space-size=${heap}`],
      env: { ...process.env, NODE_OPTIONS: "", ...env },
      stdio: ["ignore", "ignore", "ignore", "ipc"],
    });
    const child: Child = {
      process: made,
      task: null,
      ready: false,
      startedAt: Date.now(),
      ended: null,
      idleSince: Date.now(),
      lastKey: undefined,
    };
    this.children.add(child);
    try {
      // where memory runs out all the same, this is what the system ends first
      if (made.pid !== undefined) writeFileSync(`/proc/${made.pid}/oom_score_adj`, "900");
    } catch {
      // not to be had here
    }
    made.on("message", (report: Report) => this.heard(child, report));
    made.on("error", () => {}); // its end is told by exit
    made.on("exit", (code, signal) => this.gone(child, code, signal));
    return child;
  }

  private next(): void {
    const busyKeys = new Set([...this.children].map((c) => c.task?.options.key).filter((k) => k !== undefined));
    for (const task of [...this.waiting]) {
      if (task.options.key !== undefined && busyKeys.has(task.options.key)) continue;
      const idle = [...this.children].filter((c) => c.task === null && c.ended === null);
      const child =
        idle.find((c) => c.lastKey !== undefined && c.lastKey === task.options.key) ??
        idle[0] ??
        (this.children.size < this.settings.size ? this.spawn() : null);
      if (!child) break;
      this.waiting = this.waiting.filter((t) => t !== task);
      if (task.options.key !== undefined) busyKeys.add(task.options.key);
      child.task = task;
      child.lastKey = task.options.key;
      child.startedAt = Date.now();
      child.process.send({ name: task.name, input: task.input }, (error) => error && this.end(child, "time"));
      task.options.place?.(0);
    }
    this.tellPlaces();
  }

  private tellPlaces(): void {
    const running = [...this.children].filter((c) => c.task).length;
    this.waiting.forEach((task, i) => task.options.place?.(running + i));
  }

  private heard(child: Child, report: Report): void {
    const { task } = child;
    // the time that a new process takes to start is not the task's
    if (report.kind === "ready") {
      child.ready = true;
      child.startedAt = Date.now();
      return;
    }
    if (!task) return;
    if (report.kind === "progress") return task.options.progress?.(report.done, report.total);
    child.task = null;
    child.idleSince = Date.now();
    if (report.kind === "done") task.resolve(report.result as never);
    else if (report.kind === "refused")
      task.reject(
        report.status === 422
          ? new UserError(report.what, report.where, report.todo)
          : new Refused(report.status, report.what, report.where, report.todo),
      );
    else task.reject(new Error(report.stack));
    this.next();
  }

  private gone(child: Child, code: number | null, signal: NodeJS.Signals | null): void {
    this.children.delete(child);
    const { task } = child;
    child.task = null;
    if (task)
      task.reject(this.lastWords(task, child.ended ?? (signal === "SIGABRT" || code === 134 ? "memory" : null)));
    if (!this.closed) this.next();
  }

  private lastWords(task: Task, why: Child["ended"]): Error {
    const { title } = task.options;
    const { memoryBytes, timeMs } = this.settings;
    if (why === "cancelled") return new TaskCancelled();
    if (why === "memory")
      return new UserError(
        `It needs more than ${mb(memoryBytes)} of memory.`,
        title,
        "Nothing was changed. Reduce it, or leave out what is not the character's, and try again.",
      );
    if (why === "time")
      return new UserError(
        `It took longer than ${Math.round(timeMs / 1000)} seconds and was ended.`,
        title,
        "Nothing was changed. Reduce it, or leave out what is not the character's, and try again.",
      );
    return new Refused(
      503,
      "The process that worked on it ended unexpectedly.",
      title,
      "Nothing was changed. Try again; if it happens again, there is something in it that the program cannot bear.",
    );
  }

  private look(): void {
    const now = Date.now();
    for (const child of this.children) {
      if (child.task && now - child.startedAt > (child.ready ? this.settings.timeMs : START_MS))
        this.end(child, "time");
      else if (residentBytes(child.process.pid ?? 0) > this.settings.memoryBytes) this.end(child, "memory");
      else if (!child.task && now - child.idleSince > IDLE_MS) this.end(child, "cancelled");
    }
  }
}
