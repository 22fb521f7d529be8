import { wrap, type Remote } from "comlink";
import { patched } from "~core/ledger/characterPatch";
import type { Step } from "~core/ledger/steps";
import { arrayBytes, type Holding } from "~core/model/arrayBytes";
import type { Character } from "~core/model/character";
import { earlyWorker } from "./earlyWorkers";
import type { ReplayApi } from "~workers/replay";

let replayer: Remote<ReplayApi> | null = null;
/** The last character received for each base, the longest unused first. */
const held = new Map<string, Character>();
/** Characters that are kept: the one at work, one beside it, and two to go back to. */
const MOST_HELD = 4;
let turn: Promise<unknown> = Promise.resolve();

const replayed = (): Remote<ReplayApi> =>
  (replayer ??= wrap<ReplayApi>(
    earlyWorker("replay") ?? new Worker(new URL("../../workers/replay.web.ts", import.meta.url), { type: "module" }),
  ));

/** Lets the worker fetch the code of all operations before there is a first step; what fails is told then. */
export const readyForSteps = (): Promise<void> => replayed().readyForSteps();

/**
 * A character after its steps. They run in a worker; what a step leaves alone stays the same object from state to
 * state. One is asked for after the other, so that each patch meets the character it was made against.
 */
export function loadCharacter(baseBlob: string, steps: readonly Step[]): Promise<Character> {
  const load = async (): Promise<Character> => {
    const { patch, whole } = await replayed().load(baseBlob, steps, [...held.keys()]);
    const character = patched(whole ? null : (held.get(baseBlob) ?? null), patch);
    held.delete(baseBlob);
    held.set(baseBlob, character);
    if (held.size > MOST_HELD) held.delete(held.keys().next().value!);
    return character;
  };
  const next = turn.then(load, load);
  turn = next.catch(() => {});
  return next;
}

/** What is kept of characters in this page and in the worker that replays them. */
export async function characterHoldings(): Promise<Holding[]> {
  const known = new Set<unknown>();
  const bytes = [...held.values()].reduce((sum, c) => sum + arrayBytes(c, known), 0);
  const here = { what: "characters in the page", entries: held.size, bytes, limit: Infinity };
  return [here, ...((await replayer?.holdings()) ?? [])];
}
