import { decodeCharacter } from "../core/formats/container";
import { patchBetween, type CharacterPatch } from "../core/ledger/characterPatch";
import type { Step } from "../core/ledger/steps";
import { arrayBytes, type Holding } from "../core/model/arrayBytes";
import { ByteCache } from "../core/model/byteCache";
import type { Character } from "../core/model/character";
import { fetchBlob, fetchedHolding } from "./fetchBlob";
import type { LedgerState } from "./fetchState";
import type * as ReplaySteps from "./replaySteps";

/** Runs ledgers off the page's main thread and sends what each state changes. */
const MB = 1048576;
/** The code of all operations; fetched when there is a first step. */
let stepping: typeof ReplaySteps | null = null;
const fetchStepping = async (): Promise<typeof ReplaySteps> => (stepping ??= await import("./replaySteps"));
const bases = new ByteCache<Character>("characters as delivered", 256 * MB, (c) => arrayBytes(c));
/** The last character sent for each base, as the page may hold it. */
const sent = new Map<string, Character>();

export interface Replayed {
  /** Against the character sent last for this base, or against none. */
  readonly patch: CharacterPatch;
  readonly whole: boolean;
}

/** Those that are being fetched: what is expected and what is asked for are the same one. */
const coming = new Map<string, Promise<Character>>();

function baseOf(hash: string): Promise<Character> {
  const known = bases.get(hash);
  if (known) return Promise.resolve(known);
  const made =
    coming.get(hash) ??
    fetchBlob(hash)
      .then((bytes) => {
        const base = decodeCharacter(bytes);
        bases.set(hash, base);
        return base;
      })
      .finally(() => coming.delete(hash));
  coming.set(hash, made);
  return made;
}

async function after(baseBlob: string, steps: readonly Step[]): Promise<Character> {
  if (steps.length === 0) return baseOf(baseBlob);
  const [base, { afterSteps }] = await Promise.all([baseOf(baseBlob), fetchStepping()]);
  return afterSteps(baseBlob, base, steps);
}

export const replay = {
  /** Begins with a character that will be asked for; what fails is told when it is. */
  expect: (state: Promise<LedgerState>): void =>
    void state.then(({ baseBlob, steps }) => after(baseBlob, steps)).catch(() => {}),
  /** The character after the steps. @param held bases of which the page holds the character sent last. */
  async load(baseBlob: string, steps: readonly Step[], held: readonly string[]): Promise<Replayed> {
    const character = await after(baseBlob, steps);
    for (const known of sent.keys()) if (!held.includes(known)) sent.delete(known);
    const before = sent.get(baseBlob) ?? null;
    sent.set(baseBlob, character);
    return { patch: patchBetween(before, character), whole: before === null };
  },
  /** Fetches the code that the first step will need. */
  readyForSteps: async (): Promise<void> => void (await fetchStepping()),
  holdings: (): Holding[] => [fetchedHolding(), bases.holding(), ...(stepping ? [stepping.statesHolding()] : [])],
};
export type ReplayApi = typeof replay;
