import { proxy, wrap, type Remote } from "comlink";
import type { MeasureApi } from "~workers/measure.web";
import { withReports } from "./endingReports";
import type { Loaded } from "./session";

/** A measuring worker and what it holds. */
interface Measurer {
  readonly api: Remote<MeasureApi>;
  parts: unknown;
  character: unknown;
  loading: Promise<void>;
}
const measurers: Measurer[] = [];

function measurer(n: number): Measurer {
  const worker = (): Worker => new Worker(new URL("../../workers/measure.web.ts", import.meta.url), { type: "module" });
  return (measurers[n] ??= {
    api: wrap<MeasureApi>(worker()),
    parts: null,
    character: null,
    loading: Promise.resolve(),
  });
}

/**
 * A measuring worker with this character in it; what it holds already is not sent again. @param n the second one is for
 * work that is shared out.
 */
export async function measureWith(loaded: Loaded, n = 0): Promise<Remote<MeasureApi>> {
  const m = measurer(n);
  if (m.character !== loaded.character) {
    const sameParts = m.parts === loaded.character.parts;
    m.character = loaded.character;
    m.parts = loaded.character.parts;
    m.loading = m.api.load(sameParts ? { ...loaded.character, parts: [] } : loaded.character, sameParts);
  }
  await m.loading;
  return m.api;
}

export interface LongRun<T> {
  readonly result: Promise<T>;
  readonly cancel: () => void;
}

type Work<T> = (api: Remote<MeasureApi>, progress: (share: number) => void, token: string) => Promise<T>;

/**
 * Runs long work with progress 0..1; `cancel` makes it stop at its next step, and the result is rejected with
 * "cancelled".
 */
export function longRun<T>(loaded: Loaded, work: Work<T>, progress: (share: number) => void, n = 0): LongRun<T> {
  const token = crypto.randomUUID();
  return {
    result: withReports(progress, (tell) => measureWith(loaded, n).then((api) => work(api, proxy(tell), token))),
    cancel: () => void measurer(n).api.cancel(token),
  };
}

/** Shares items out to two workers, every other one to each, and puts the results in order again. */
export function sharedRun<I, O>(
  loaded: Loaded,
  items: readonly I[],
  work: (
    api: Remote<MeasureApi>,
    items: readonly I[],
    progress: (share: number) => void,
    token: string,
  ) => Promise<readonly O[]>,
  progress: (share: number) => void,
): LongRun<O[]> {
  const shares = [0, 0];
  const runs: LongRun<readonly O[]>[] = [];
  // where one worker ends early, cancelled or in a fault, the other may report on
  const result = withReports(progress, (tellBoth) => {
    for (const n of [0, 1]) {
      const own = items.filter((_, i) => i % 2 === n);
      runs.push(
        longRun(
          loaded,
          (api, tell, token) => work(api, own, tell, token),
          (share) => {
            shares[n] = share;
            tellBoth((shares[0]! + shares[1]!) / 2);
          },
          n,
        ),
      );
    }
    return Promise.all(runs.map((r) => r.result));
  });
  return {
    result: result.then((lists) => items.map((_, i) => lists[i % 2]![i >> 1]!)),
    cancel: () => runs.forEach((r) => r.cancel()),
  };
}

export const wasCancelled = (error: unknown): boolean => error instanceof Error && error.message === "cancelled";
