import type { Tick } from "../core/measure/sweepMotion";

/** Runs work that gives its share 0..1 at every step, with a tick between the steps. */
export async function inSteps<T>(work: Generator<number, T>, tick: Tick): Promise<T> {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    await tick(value, 1);
  }
}
