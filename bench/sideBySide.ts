/** Median of several runs, milliseconds; the first runs, which warm the compiler, are left out. */
export function medianMs(work: () => void, runs = 15, warm = 3): number {
  const times: number[] = [];
  for (let i = 0; i < runs + warm; i++) {
    const start = performance.now();
    work();
    if (i >= warm) times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[times.length >> 1]!;
}

/**
 * Two pieces of work turn about in the same stretch of time, so that a busy machine slows both; medians, milliseconds.
 */
export function turnAbout(
  slow: () => void,
  fast: () => void,
  rounds = 25,
  fastPerRound = 8,
): { slow: number; fast: number } {
  for (let i = 0; i < 5; i++) {
    slow();
    for (let k = 0; k < fastPerRound; k++) fast();
  }
  const slowTimes: number[] = [];
  const fastTimes: number[] = [];
  for (let i = 0; i < rounds; i++) {
    slowTimes.push(medianMs(slow, 1, 0));
    fastTimes.push(medianMs(fast, fastPerRound, 0));
  }
  const middle = (list: number[]): number => list.sort((a, b) => a - b)[list.length >> 1]!;
  return { slow: middle(slowTimes), fast: middle(fastTimes) };
}

export function report(what: string, value: string, wanted = ""): void {
  const line = `${what.padEnd(62)} ${value.padStart(26)}${wanted ? `   ${wanted}` : ""}`;
  process.stdout.write(`${line}\n`);
}
