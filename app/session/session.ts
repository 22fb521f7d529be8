import { createContext, useContext } from "react";
import { createStore, useStore, type StoreApi } from "zustand";
import type { Moment, MomentSource } from "~core/evaluate/moment";
import type { JointFields, JointReading } from "~core/measure/measureJoint";
import type { Loaded } from "./loaded";
import { NOTHING_PLAYED, type Playback } from "./playback";
import { NOTHING_BESIDE, type BesideSlice } from "./slices/beside";
import { NOTHING_SELECTED, type SelectionSlice } from "./slices/selection";
import { NO_TOOLS, type ToolsSlice } from "./slices/tools";
import { NO_TRACKING, type TrackingSlice } from "./slices/tracking";
import { NO_TRIAL, type TrialSlice } from "./slices/trial";
import { START_VIEW, type ViewState } from "./urlState";

export { makeLoaded, type Loaded } from "./loaded";

export interface Measured {
  readonly joint: string;
  readonly reading: JointReading;
  readonly fields: JointFields;
  readonly share: Float32Array;
}

/** The work on the character as it stands: what was loaded, and what is measured of it. */
export interface WorkSlice {
  readonly loaded: Loaded | null;
  readonly loadError: string | null;
  readonly measured: Measured | null;
}
const NO_WORK: WorkSlice = { loaded: null, loadError: null, measured: null };

/** What plays, and whether it is looked at as before. */
export interface PlaybackSlice {
  readonly playback: Playback;
  /** What plays under the hand. */
  readonly sources: readonly MomentSource[];
  readonly beforeHeld: boolean;
}
const NO_PLAYBACK: PlaybackSlice = { playback: NOTHING_PLAYED, sources: [], beforeHeld: false };

/** All that a desk holds, in slices; what changes each stands beside it in `slices/`. */
export interface Session
  extends ViewState, SelectionSlice, ToolsSlice, WorkSlice, PlaybackSlice, TrialSlice, TrackingSlice, BesideSlice {}

const START: Session = {
  ...START_VIEW,
  ...NOTHING_SELECTED,
  ...NO_TOOLS,
  ...NO_WORK,
  ...NO_PLAYBACK,
  ...NO_TRIAL,
  ...NO_TRACKING,
  ...NOTHING_BESIDE,
};

export type SessionStore = StoreApi<Session>;
export const makeSession = (view: ViewState): SessionStore => {
  const store = createStore<Session>(() => ({ ...START, ...view }));
  // clothes that were taken off for a sculpt come back, however it ends
  store.subscribe((now, before) => {
    if (before.sculpt?.wasDressed && !now.sculpt && !now.dressed) store.setState({ dressed: true });
  });
  return store;
};

export const SessionContext = createContext<SessionStore | null>(null);
export const useSessionStore = (): SessionStore => {
  const store = useContext(SessionContext);
  if (!store) throw new Error("outside a character's desk");
  return store;
};
export const useSession = <T>(select: (s: Session) => T): T => useStore(useSessionStore(), select);

/** A live face in place of recorded ones: over what plays, under what is said. */
function withLive(sources: readonly MomentSource[], live: MomentSource): readonly MomentSource[] {
  const others = sources.filter((source) => source.kind !== "face");
  const said = others.findIndex((source) => source.kind === "speech");
  const at = said < 0 ? others.length : said;
  return [...others.slice(0, at), live, ...others.slice(at)];
}

/** The moment the stage shows. */
export const momentOf = (
  s: Pick<Session, "pose" | "weights" | "method" | "drivers" | "driversOff" | "sources" | "live">,
): Moment => ({
  pose: s.pose,
  weights: s.weights,
  method: s.method,
  drivers: s.drivers,
  ...(s.driversOff.length ? { off: s.driversOff } : {}),
  sources: s.live ? withLive(s.sources, s.live) : s.sources,
});

/** Puts a character on the desk. */
export const setLoaded = (store: SessionStore, loaded: Loaded): void =>
  store.setState({ loaded, loadError: null, measured: null });
export const setLoadError = (store: SessionStore, loadError: string): void => store.setState({ loadError });
export const setMeasured = (store: SessionStore, measured: Measured | null): void => store.setState({ measured });
