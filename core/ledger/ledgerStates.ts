import type { Character } from "../model/character";
import { applyStep, type BlobSource } from "./applyStep";
import type { Step } from "./steps";

interface State {
  character: Character | null;
  readonly next: Map<string, State>;
}

/**
 * Characters after the first steps of ledgers are kept, so that one more step, or one less, costs no replay. Characters
 * share what steps leave alone.
 */
export class LedgerStates {
  private readonly bases = new Map<string, State>();
  /** States that hold a character, the longest unused first. */
  private readonly holding = new Set<State>();

  /** @param most states kept; beyond that the longest unused are made anew when asked for. */
  constructor(private readonly most: number) {}

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
    if (!state) this.bases.set(name, (state = { character: null, next: new Map() }));
    const way = [state];
    for (const step of steps) {
      const key = JSON.stringify(step);
      const known: State = state.next.get(key) ?? { character: null, next: new Map() };
      state.next.set(key, known);
      way.push((state = known));
    }
    let from = way.length - 1;
    while (from > 0 && !way[from]!.character) from--;
    let character = from === 0 ? base : way[from]!.character!;
    if (from > 0) this.keep(way[from]!, character);
    for (let i = from; i < steps.length; i++)
      this.keep(way[i + 1]!, (character = applyStep(character, steps[i]!, blobs)));
    return character;
  }

  private keep(state: State, character: Character): void {
    this.holding.delete(state);
    this.holding.add(state);
    state.character = character;
    while (this.holding.size > this.most) {
      const [oldest] = this.holding;
      this.holding.delete(oldest!);
      oldest!.character = null;
    }
  }
}
