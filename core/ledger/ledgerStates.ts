import { arrayBytes, type Holding } from "../model/arrayBytes";
import type { Character } from "../model/character";
import { applyStep, type BlobSource } from "./applyStep";
import type { Step } from "./steps";

/** Bytes of the arrays of one character that another does not have. */
function newBytes(before: Character, after: Character): number {
  const known = new Set<unknown>();
  arrayBytes(before, known);
  return arrayBytes(after, known);
}

interface State {
  character: Character | null;
  /** Of arrays that the state before does not have, about. */
  bytes: number;
  readonly next: Map<string, State>;
}

/**
 * Characters after the first steps of ledgers are kept, so that one more step, or one less, costs no replay. Characters
 * share what steps leave alone.
 */
export class LedgerStates {
  private readonly bases = new Map<string, State>();
  /** States that hold a character, the longest unused first. */
  private readonly kept = new Set<State>();

  private bytes = 0;

  /** @param most states kept, of @param mostBytes; beyond that the longest unused are made anew when asked for. */
  constructor(
    private readonly most: number,
    private readonly mostBytes = Infinity,
  ) {}

  /** What is kept; arrays that several states share count with each that made them. */
  holding(): Holding {
    return { what: "states of characters", entries: this.kept.size, bytes: this.bytes, limit: this.mostBytes };
  }

  /**
   * How many of the first steps need no geometry any more: the character after them is held. @param name of the base.
   */
  held(name: string, steps: readonly Step[]): number {
    let state = this.bases.get(name);
    let count = 0;
    for (const [i, step] of steps.entries()) {
      state = state?.next.get(JSON.stringify(step));
      if (!state) break;
      if (state.character) count = i + 1;
    }
    return count;
  }

  /**
   * The character that a base becomes by steps. @param name of the base, the same for the same base. @throws UserError
   * when a step cannot be applied.
   */
  after(name: string, base: Character, steps: readonly Step[], blobs: BlobSource): Character {
    let state = this.bases.get(name);
    if (!state) this.bases.set(name, (state = { character: null, bytes: 0, next: new Map() }));
    const way = [state];
    for (const step of steps) {
      const key = JSON.stringify(step);
      const known: State = state.next.get(key) ?? { character: null, bytes: 0, next: new Map() };
      state.next.set(key, known);
      way.push((state = known));
    }
    let from = way.length - 1;
    while (from > 0 && !way[from]!.character) from--;
    let character = from === 0 ? base : way[from]!.character!;
    if (from > 0) this.keep(way[from]!, character, way[from]!.bytes);
    for (let i = from; i < steps.length; i++) {
      const before = character;
      character = applyStep(before, steps[i]!, blobs);
      this.keep(way[i + 1]!, character, newBytes(before, character));
    }
    return character;
  }

  private keep(state: State, character: Character, bytes: number): void {
    this.forget(state);
    this.kept.add(state);
    this.bytes += bytes;
    Object.assign(state, { character, bytes });
    // the newest stays, whatever its size
    while (this.kept.size > 1 && (this.kept.size > this.most || this.bytes > this.mostBytes))
      this.forget([...this.kept][0]!);
  }

  private forget(state: State): void {
    if (!this.kept.delete(state)) return;
    this.bytes -= state.bytes;
    state.character = null;
  }
}
