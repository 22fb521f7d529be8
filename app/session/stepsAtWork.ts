/**
 * Steps that are with the server now, by the job that it does them as; what shows their progress looks here for the one
 * that runs.
 */
const running: string[] = [];
const watching = new Set<() => void>();
const changed = (): void => watching.forEach((w) => w());

export const stepsAtWork = {
  /** @returns ends it. */
  begin(job: string): () => void {
    running.push(job);
    changed();
    return () => {
      running.splice(running.indexOf(job), 1);
      changed();
    };
  },
  /** The one that was sent first, or null. */
  first: (): string | null => running[0] ?? null,
  subscribe(watch: () => void): () => void {
    watching.add(watch);
    return () => void watching.delete(watch);
  },
};
