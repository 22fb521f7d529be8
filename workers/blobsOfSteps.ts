import { blobsOfStep, type Step } from "../core/ledger/steps";
import { fetchBlob } from "./fetchBlob";

/** The geometry that steps refer to, by hash. */
export async function blobsOfSteps(steps: readonly Step[]): Promise<ReadonlyMap<string, Uint8Array>> {
  const hashes = [...new Set(steps.flatMap(blobsOfStep))];
  return new Map(await Promise.all(hashes.map(async (h) => [h, await fetchBlob(h)] as const)));
}
