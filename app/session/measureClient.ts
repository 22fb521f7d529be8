import { proxy, wrap, type Remote } from "comlink";
import type { MeasureApi } from "~workers/measure.web";
import type { Loaded } from "./session";

let worker: Worker | null = null;
let remote: Remote<MeasureApi> | null = null;
let loadedParts: unknown = null;
let loadedCharacter: unknown = null;
let loading: Promise<void> = Promise.resolve();

function start(): Remote<MeasureApi> {
  if (!remote) {
    worker = new Worker(new URL("../../workers/measure.web.ts", import.meta.url), { type: "module" });
    remote = wrap<MeasureApi>(worker);
  }
  return remote;
}

/** The measuring worker with this character in it; what it holds already is not sent again. */
export async function measureWith(loaded: Loaded): Promise<Remote<MeasureApi>> {
  const api = start();
  if (loadedCharacter !== loaded.character) {
    const sameParts = loadedParts === loaded.character.parts;
    loadedCharacter = loaded.character;
    loadedParts = loaded.character.parts;
    loading = api.load(sameParts ? { ...loaded.character, parts: [] } : loaded.character, sameParts);
  }
  await loading;
  return api;
}

export interface LongRun<T> {
  readonly result: Promise<T>;
  readonly cancel: () => void;
}

/** Runs long work with progress 0..1; `cancel` makes it stop at its next step, and the result is rejected with "cancelled". */
export function longRun<T>(loaded: Loaded, work: (api: Remote<MeasureApi>, progress: (share: number) => void, token: string) => Promise<T>, progress: (share: number) => void): LongRun<T> {
  const token = crypto.randomUUID();
  return { result: measureWith(loaded).then((api) => work(api, proxy(progress), token)), cancel: () => void start().cancel(token) };
}

export const wasCancelled = (error: unknown): boolean => error instanceof Error && error.message === "cancelled";
