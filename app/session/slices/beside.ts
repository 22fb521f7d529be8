import type { Moment, MomentSource } from "~core/evaluate/moment";
import type { Loaded, Session, SessionStore } from "../session";

/** What stands in the place of "before" on the stage: another version, or another character. */
export interface BesideSlice {
  /** Null: the character itself, without correctives. */
  readonly beside: { readonly loaded: Loaded; readonly title: string } | null;
  /** What plays on it, at the same time as on the character. */
  readonly besideSources: readonly MomentSource[];
}
export const NOTHING_BESIDE: BesideSlice = { beside: null, besideSources: [] };

export const setBeside = (store: SessionStore, beside: BesideSlice["beside"]): void =>
  store.setState({ beside, besideSources: [] });

/** The moment of what stands beside: posed by hand as the character is, with what plays on it. */
export const momentBeside = (
  s: Pick<Session, "pose" | "weights" | "method" | "drivers" | "driversOff" | "besideSources">,
): Moment => ({
  pose: s.pose,
  weights: s.weights,
  method: s.method,
  drivers: s.drivers,
  ...(s.driversOff.length ? { off: s.driversOff } : {}),
  sources: s.besideSources,
});
