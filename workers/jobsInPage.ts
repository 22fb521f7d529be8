import { decodeCharacter } from "../core/formats/container";
import { LedgerStates } from "../core/ledger/ledgerStates";
import { blobsOfSteps } from "./blobsOfSteps";
import { fetchBlob } from "./fetchBlob";
import { JobHost } from "./jobHost";

/** Runs jobs off the page's main thread. */
const MOST_STATES = 2;
const MB = 1048576;
const states = new LedgerStates(MOST_STATES, 128 * MB);

export const jobs = new JobHost(async ({ baseBlob, steps }) => {
  const blobs = await blobsOfSteps(steps);
  return states.after(baseBlob, decodeCharacter(await fetchBlob(baseBlob)), steps, (h) => blobs.get(h));
});
