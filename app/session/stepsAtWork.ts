import { createStore } from "zustand";

/**
 * Steps that are with the server now, by the job that it does them as, the first sent first; what shows their progress
 * looks here for the one that runs.
 */
export const stepsAtWork = createStore<{ readonly jobs: readonly string[] }>(() => ({ jobs: [] }));

/** @returns ends it. */
export function beginStep(job: string): () => void {
  stepsAtWork.setState(({ jobs }) => ({ jobs: [...jobs, job] }));
  return () => stepsAtWork.setState(({ jobs }) => ({ jobs: jobs.filter((j) => j !== job) }));
}
