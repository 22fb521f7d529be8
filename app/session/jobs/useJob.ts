import { useCallback } from "react";
import type { JobInput, JobName, JobOutput } from "~jobs/jobs";
import { useSessionStore } from "../session";
import { startJob } from "./pageJobs";
import { useWork, type Work } from "./useWork";

export interface DeskJob extends Work {
  /** Runs a job on the character of the desk; null when it was cancelled or refused. */
  readonly run: <N extends JobName>(title: string, name: N, input: JobInput<N>) => Promise<JobOutput<N> | null>;
}

/** Jobs of a component on the character of the desk, one at a time. @param failed said where a job breaks down. */
export function useJob(failed: string): DeskJob {
  const store = useSessionStore();
  const work = useWork(failed);
  const { during } = work;
  const run = useCallback(
    <N extends JobName>(title: string, name: N, input: JobInput<N>): Promise<JobOutput<N> | null> =>
      during(title, (progress, signal) => startJob(store.getState().loaded!, name, input, { progress, signal })),
    [during, store],
  );
  return { ...work, run };
}
