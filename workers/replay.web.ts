import { expose } from "comlink";
import { decodeCharacter } from "../core/formats/container";
import { patchBetween, type CharacterPatch } from "../core/ledger/characterPatch";
import { LedgerStates } from "../core/ledger/ledgerStates";
import { blobsOfStep, type Step } from "../core/ledger/steps";
import type { Character } from "../core/model/character";
import { fetchBlob } from "./fetchBlob";

/** Runs ledgers off the page's main thread and sends what each state changes. */
const MOST_STATES = 60;
const states = new LedgerStates(MOST_STATES);
const bases = new Map<string, Character>();
/** The last character sent for each base, as the page holds it. */
const sent = new Map<string, Character>();
const api = {
  /** The character after the steps, as a change of the one sent last for this base. */
  async load(baseBlob: string, steps: readonly Step[]): Promise<CharacterPatch> {
    if (!bases.has(baseBlob)) bases.set(baseBlob, decodeCharacter(await fetchBlob(baseBlob)));
    const hashes = [...new Set(steps.flatMap(blobsOfStep))];
    const bytes = new Map(await Promise.all(hashes.map(async (h) => [h, await fetchBlob(h)] as const)));
    const character = states.after(baseBlob, bases.get(baseBlob)!, steps, (h) => bytes.get(h));
    const patch = patchBetween(sent.get(baseBlob) ?? null, character);
    sent.set(baseBlob, character);
    return patch;
  },
};
export type ReplayApi = typeof api;
expose(api);
