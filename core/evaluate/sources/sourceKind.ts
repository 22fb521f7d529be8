import type { Character } from "../../model/character";
import type { Turns } from "../turns";

/** A moment while its sources are laid over one another. */
export interface Draft {
  readonly turns: Turns;
  /** 3 x jointCount: how far joints stand from their rest place, in what they hang on, metres. */
  readonly travel: Float64Array;
  /** Whether any joint travels. */
  travels: boolean;
  readonly weights: Float32Array;
}

/** One kind of source: lays what it holds over the draft. */
export type LayOver<S> = (source: S, character: Character, draft: Draft) => void;
