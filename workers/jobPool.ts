import { patchBetween, type CharacterPatch } from "../core/ledger/characterPatch";
import type { Character } from "../core/model/character";
import { UserError } from "../core/model/userError";
import type { JobInput, JobName, JobOutput } from "../jobs/jobs";
import type { JobAnswer } from "./jobHost";
import { JobCancelled } from "../jobs/ticker";
import { endingReports } from "./endingReports";

/** A thread that runs jobs, as the page reaches it. */
export interface JobThread {
  load(patch: CharacterPatch): Promise<void>;
  run<N extends JobName>(
    name: N,
    input: JobInput<N>,
    progress: ((share: number) => void) | null,
    token: string,
  ): Promise<JobAnswer<JobOutput<N>>>;
  cancel(token: string): Promise<void>;
}
interface Seat {
  readonly thread: JobThread;
  held: Character | null;
  /** Jobs that run there now. */
  running: number;
}
export interface JobOptions {
  /** Gets the share done, 0..1; nothing any more once the job has ended. */
  readonly progress?: (share: number) => void;
  readonly signal?: AbortSignal;
}

/**
 * Threads that hold a character each and run jobs on it. What takes long runs where least is at work; what must answer
 * at once has the first thread to itself while there are others. A thread that holds an earlier state is sent what
 * changed.
 */
export class JobPool {
  private readonly seats: Seat[] = [];

  /** @param size threads at most, two or more. */
  constructor(
    private readonly start: () => JobThread,
    readonly size: number,
  ) {}

  /** An answer that is waited for while somebody works. */
  ask<N extends JobName>(character: Character, name: N, input: JobInput<N>): Promise<JobOutput<N>> {
    return this.at(this.seat(0), character, name, input, {});
  }

  /** Work that takes long. @throws JobCancelled once it was cancelled, UserError for what it refuses. */
  run<N extends JobName>(
    character: Character,
    name: N,
    input: JobInput<N>,
    options: JobOptions = {},
  ): Promise<JobOutput<N>> {
    const places = Array.from({ length: this.size - 1 }, (_, i) => i + 1);
    const least = places.reduce((a, b) => ((this.seats[b]?.running ?? 0) < (this.seats[a]?.running ?? 0) ? b : a));
    return this.at(this.seat(least), character, name, input, options);
  }

  /** Work on many items, dealt out to all threads; the answers come in the order of the items. */
  async share<N extends JobName, I, O>(
    character: Character,
    name: N,
    items: readonly I[],
    inputOf: (items: readonly I[]) => JobInput<N>,
    { progress, signal }: JobOptions = {},
  ): Promise<O[]> {
    const used = Math.min(this.size, Math.max(1, items.length));
    const shares = Array.from({ length: used }, () => 0);
    const tell = (n: number, share: number): void => {
      shares[n] = share;
      progress?.(shares.reduce((a, b) => a + b) / used);
    };
    const piece = async (n: number): Promise<JobOutput<N>> => {
      const own = inputOf(items.filter((_, i) => i % used === n));
      const options = { progress: (share: number) => tell(n, share), ...(signal ? { signal } : {}) };
      const made = await this.at(this.seat(n), character, name, own, options);
      tell(n, 1);
      return made;
    };
    const lists = await Promise.all(shares.map((_, n) => piece(n)));
    return items.map((_, i) => (lists[i % used] as unknown as readonly O[])[Math.floor(i / used)]!);
  }

  private seat(n: number): Seat {
    return (this.seats[n] ??= { thread: this.start(), held: null, running: 0 });
  }

  private async at<N extends JobName>(
    seat: Seat,
    character: Character,
    name: N,
    input: JobInput<N>,
    { progress, signal }: JobOptions,
  ): Promise<JobOutput<N>> {
    if (signal?.aborted) throw new JobCancelled();
    const token = crypto.randomUUID();
    const reports = endingReports(progress ?? (() => {}));
    const cancel = (): void => void seat.thread.cancel(token);
    signal?.addEventListener("abort", cancel);
    seat.running++;
    try {
      if (seat.held !== character) {
        const patch = patchBetween(seat.held, character);
        seat.held = character;
        // what is asked next goes behind it in the same queue
        void seat.thread.load(patch);
      }
      const answer = await seat.thread.run(name, input, progress ? reports.tell : null, token);
      if ("refused" in answer) throw new UserError(answer.refused.what, answer.refused.where, answer.refused.todo);
      if ("cancelled" in answer || signal?.aborted) throw new JobCancelled();
      return answer.result;
    } finally {
      seat.running--;
      reports.end();
      signal?.removeEventListener("abort", cancel);
    }
  }
}
