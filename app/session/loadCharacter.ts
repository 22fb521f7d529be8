import { decodeCharacter } from "~core/formats/container";
import { applySteps } from "~core/ledger/applyStep";
import { blobsOfStep, type Step } from "~core/ledger/steps";
import type { Character } from "~core/model/character";

const blobs = new Map<string, Promise<Uint8Array>>();

/** Geometry by its hash, fetched once. */
export function fetchBlob(hash: string): Promise<Uint8Array> {
  let pending = blobs.get(hash);
  if (!pending) {
    pending = fetch(`/api/blobs/${hash}`).then(async (response) => {
      if (!response.ok) throw new Error(response.status === 503 ? "The database does not answer. Try again in a moment." : "The geometry could not be fetched.");
      return new Uint8Array(await response.arrayBuffer());
    });
    pending.catch(() => blobs.delete(hash));
    blobs.set(hash, pending);
  }
  return pending;
}

/** Geometry made here is known before the server hands it back. */
export const rememberBlob = (hash: string, bytes: Uint8Array): void => void blobs.set(hash, Promise.resolve(bytes));

const bases = new Map<string, Character>();

/** A character after its steps; the decoded base is kept, so that its parts stay the same objects from state to state. */
export async function loadCharacter(baseBlob: string, steps: readonly Step[]): Promise<Character> {
  let base = bases.get(baseBlob);
  if (!base) {
    base = decodeCharacter(await fetchBlob(baseBlob));
    bases.set(baseBlob, base);
  }
  const hashes = [...new Set(steps.flatMap(blobsOfStep))];
  const bytes = new Map(await Promise.all(hashes.map(async (h) => [h, await fetchBlob(h)] as const)));
  return applySteps(base, steps, (h) => bytes.get(h));
}
