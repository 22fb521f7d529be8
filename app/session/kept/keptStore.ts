import { createStore, del, entries, get, set, update, type UseStore } from "idb-keyval";

/**
 * What is kept in this browser until the ledger has it, or for as long as it is in work: steps that wait, and drafts.
 * Told to every window when it changes.
 */
export type Shelf = "steps" | "drafts";
const stores = new Map<Shelf, UseStore>();
const storeOf = (shelf: Shelf): UseStore => {
  const known = stores.get(shelf) ?? createStore(`yxomorph-${shelf}`, shelf);
  stores.set(shelf, known);
  return known;
};

const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("yxomorph-kept");
const listeners = new Set<(shelf: Shelf) => void>();
channel?.addEventListener("message", (e: MessageEvent<Shelf>) => listeners.forEach((l) => l(e.data)));
/** Says that a shelf, or who works on what is on it, has changed. */
export const tell = (shelf: Shelf): void => {
  listeners.forEach((l) => l(shelf));
  channel?.postMessage(shelf);
};

/** Calls back whenever a shelf changes, in whatever window. @returns ends it. */
export function onKept(shelf: Shelf, look: () => void): () => void {
  const listener = (changed: Shelf): void => void (changed === shelf && look());
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

export async function keep(shelf: Shelf, key: string, value: unknown): Promise<void> {
  await set(key, value, storeOf(shelf));
  tell(shelf);
}
/** Changes what is kept under a key; nothing happens when it has gone. */
export async function change<T>(shelf: Shelf, key: string, to: (old: T) => T): Promise<void> {
  if ((await get(key, storeOf(shelf))) === undefined) return;
  await update<T>(key, (old) => to(old as T), storeOf(shelf));
  tell(shelf);
}
export async function forget(shelf: Shelf, ...keys: readonly string[]): Promise<void> {
  for (const key of keys) await del(key, storeOf(shelf));
  tell(shelf);
}
export const kept = <T>(shelf: Shelf, key: string): Promise<T | undefined> => get<T>(key, storeOf(shelf));
export const allKept = async <T>(shelf: Shelf): Promise<T[]> =>
  (await entries<string, T>(storeOf(shelf))).map(([, value]) => value);
