import { ByteCache } from "../core/model/byteCache";
import type { Holding } from "../core/model/arrayBytes";

const MB = 1048576;
const kept = new ByteCache<Uint8Array>("geometry as it was fetched", 96 * MB, (b) => b.length);
const coming = new Map<string, Promise<Uint8Array>>();
/** An answer that brings nothing for so long is given up, ms: the browser's cache may hold one that never ends. */
const STALL_MS = 8000;

export const fetchedHolding = (): Holding => kept.holding();

/** Bytes by their hash, fetched once. @param stallMs after so long without anything new it is asked past the cache. */
export function fetchBlob(hash: string, stallMs = STALL_MS): Promise<Uint8Array> {
  const known = kept.get(hash);
  if (known) return Promise.resolve(known);
  let pending = coming.get(hash);
  if (!pending) {
    pending = alone(hash, () => bytesOf(hash, "default", stallMs))
      .catch((error: unknown) => {
        if (error instanceof Stalled) return bytesOf(hash, "reload", stallMs);
        throw error;
      })
      .then((bytes) => {
        kept.set(hash, bytes);
        return bytes;
      })
      .finally(() => coming.delete(hash));
    coming.set(hash, pending);
  }
  return pending;
}

/**
 * Threads of one page that want the same bytes at once take turns: the second finds them in the browser's cache, where
 * two answers that fill one place of it may wait for one another for ever.
 */
function alone<T>(hash: string, work: () => Promise<T>): Promise<T> {
  const locks = globalThis.navigator?.locks as LockManager | undefined;
  return locks ? (locks.request(`yxomorph blob ${hash}`, work) as Promise<T>) : work();
}

class Stalled extends Error {
  override message = "The geometry did not arrive. Try again in a moment.";
}

async function bytesOf(hash: string, cache: RequestCache, stallMs: number): Promise<Uint8Array> {
  const control = new AbortController();
  let timer = setTimeout(() => control.abort(), stallMs);
  try {
    const response = await fetch(`/api/blobs/${hash}`, { signal: control.signal, cache });
    if (!response.ok || !response.body)
      throw new Error(
        response.status === 503
          ? "The database does not answer. Try again in a moment."
          : "The geometry could not be fetched.",
      );
    const pieces: Uint8Array[] = [];
    const reader = response.body.getReader();
    for (let next = await reader.read(); !next.done; next = await reader.read()) {
      pieces.push(next.value);
      clearTimeout(timer);
      timer = setTimeout(() => control.abort(), stallMs);
    }
    return new Uint8Array(await new Blob(pieces as BlobPart[]).arrayBuffer());
  } catch (error) {
    throw control.signal.aborted ? new Stalled() : error;
  } finally {
    clearTimeout(timer);
  }
}
