import type { ShareDone } from "../../model/shareDone";
import type { Character } from "../../model/character";

/** Where a finding stands: what a repair needs to know of it. */
export interface MendPlace {
  readonly check: string;
  readonly part: string | null;
  readonly joint: string | null;
  readonly shape: string | null;
  readonly clip: string | null;
  readonly limit: number | null;
  readonly value?: number | null;
}

/** A repair that loses nothing a rigger would miss. */
export interface Mend {
  /** What the repair does, as a sentence for the button's preview; null where it is not safe. */
  readonly says: (place: MendPlace) => string | null;
  readonly apply: (character: Character, place: MendPlace, tell: ShareDone) => Character;
}
