import { patched, type CharacterPatch } from "../core/ledger/characterPatch";
import type { Character } from "../core/model/character";
import { isUserError } from "../core/model/userError";
import { makeContext } from "../jobs/context";
import type { JobContext } from "../jobs/job";
import type { JobInput, JobName, JobOutput } from "../jobs/jobs";
import { runJob } from "../jobs/runJob";
import { JobCancelled, makeTick } from "../jobs/ticker";

/** What came of a job; errors do not cross threads as what they are. */
export type JobAnswer<T> =
  | { readonly result: T }
  | { readonly refused: { readonly what: string; readonly where: string; readonly todo: string } }
  | { readonly cancelled: true };

/** Holds one character in a thread and runs jobs on it, several in turns. */
export class JobHost {
  private character: Character | null = null;
  private context: JobContext | null = null;
  private readonly cancelled = new Set<string>();

  constructor(private readonly other: JobContext["other"]) {}

  /** Takes a character as a change of the one that was sent last; jobs at work go on with theirs. */
  load(patch: CharacterPatch): void {
    this.character = patched(this.character, patch);
    this.context = makeContext(this.character, this.context, this.other);
  }

  async run<N extends JobName>(
    name: N,
    input: JobInput<N>,
    progress: ((share: number) => void) | null,
    token: string,
  ): Promise<JobAnswer<JobOutput<N>>> {
    if (!this.context) throw new Error("no character is loaded");
    try {
      const tick = makeTick(progress ?? (() => {}), () => this.cancelled.has(token));
      return { result: await runJob(name, this.context, input, tick) };
    } catch (error) {
      if (error instanceof JobCancelled) return { cancelled: true };
      if (isUserError(error)) return { refused: { what: error.what, where: error.where, todo: error.todo } };
      throw error;
    } finally {
      this.cancelled.delete(token);
    }
  }

  cancel(token: string): void {
    this.cancelled.add(token);
  }
}
