import { createStore, entries, get, set, delMany, type UseStore } from "idb-keyval";
import type { Character } from "~core/model/character";

/**
 * What was read of characters at length and can be read again: kept in this browser so that a reload costs nothing.
 * Lost without harm.
 */
interface KeptReading<T> {
  readonly keptAt: number;
  readonly value: T;
}
/** So many bases are remembered. */
const MOST = 12;

/** Readings of one kind in this browser, by name; the oldest are forgotten. */
export interface ReadingsStore<T> {
  readonly get: (name: string) => Promise<T | undefined>;
  readonly keep: (name: string, value: T) => Promise<void>;
}

/** @param database its name; a kind has its own, so that none pushes another out. */
export function readingsStore<T>(database: string, most: number): ReadingsStore<T> {
  let store: UseStore | null = null;
  const storeOf = (): UseStore | null =>
    typeof indexedDB === "undefined" ? null : (store ??= createStore(database, "readings"));
  return {
    async get(name) {
      const s = storeOf();
      return s ? (await get<KeptReading<T>>(name, s))?.value : undefined;
    },
    async keep(name, value) {
      const s = storeOf();
      if (!s) return;
      await set(name, { keptAt: Date.now(), value } satisfies KeptReading<T>, s);
      const all = (await entries<string, KeptReading<T>>(s)).sort((a, b) => b[1].keptAt - a[1].keptAt);
      if (all.length > most)
        await delMany(
          all.slice(most).map(([key]) => key),
          s,
        );
    },
  };
}

const readings = readingsStore<unknown>("yxomorph-readings", MOST);

/** A base as a short text: its parts by name and a sum over all of their vertices and faces (FNV-1a). */
export function baseMark({ parts }: Pick<Character, "parts">): string {
  let hash = 0x811c9dc5;
  const add = (words: Uint32Array): void => {
    for (const word of words) hash = Math.imul(hash ^ word, 0x01000193) >>> 0;
  };
  for (const { positions, corners } of parts) {
    add(new Uint32Array(positions.slice().buffer));
    add(corners);
  }
  return `${parts
    .map((p) => `${p.name} ${p.positions.length}`)
    .join(", ")
    .slice(0, 400)} ${hash.toString(16)}`;
}

export const keptReading = async <T>(of: string, base: string): Promise<T | undefined> =>
  (await readings.get(`${of} ${base}`)) as T | undefined;

/** Keeps a reading in place of the last one of this base; the oldest bases are forgotten. */
export const keepReading = (of: string, base: string, value: unknown): Promise<void> =>
  readings.keep(`${of} ${base}`, value);
