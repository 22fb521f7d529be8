const blobs = new Map<string, Promise<Uint8Array>>();

/** Bytes by their hash, fetched once. */
export function fetchBlob(hash: string): Promise<Uint8Array> {
  let pending = blobs.get(hash);
  if (!pending) {
    pending = fetch(`/api/blobs/${hash}`).then(async (response) => {
      if (!response.ok)
        throw new Error(
          response.status === 503
            ? "The database does not answer. Try again in a moment."
            : "The geometry could not be fetched.",
        );
      return new Uint8Array(await response.arrayBuffer());
    });
    pending.catch(() => blobs.delete(hash));
    blobs.set(hash, pending);
  }
  return pending;
}
