import type { Clip } from "~core/model/character";
import { LANES, type Lane } from "~core/trials/lanes";
import type { Piece, Trial } from "~core/trials/trial";
import type { FrameReading } from "~core/trials/watchFrame";
import { NO_HISTORY, remembered, type History } from "../history";
import type { SessionStore } from "../session";

/** Frames of a trial that were measured, on one state of the character. */
export interface Watched {
  /** State and trial that they belong to. */
  readonly key: string;
  readonly readings: readonly FrameReading[];
  /** Whether every frame is in. */
  readonly whole: boolean;
}

/** What is on the ruler. */
export interface TrialSlice {
  readonly trial: Trial | null;
  /** Name of the kept trial that it is, or will be when it is kept. */
  readonly trialId: string | null;
  /** Revision that the server has; 0 for one that is not kept. */
  readonly trialRevision: number;
  /** As it was kept last; null for one that never was. */
  readonly trialKept: Trial | null;
  readonly trialHistory: History<Trial>;
  readonly piece: string | null;
  readonly watched: Watched | null;
  /** A clip as it would be with the fitting that is being tried. */
  readonly tried: Clip | null;
  /** Stretch of the ruler that is seen, seconds; null sees all. */
  readonly seen: readonly [number, number] | null;
  /** Counts the lines that were worked out: what plays is to be shown anew. */
  readonly spokenLines: number;
  /** Whether what is posed by hand is keyed where the needle stands. */
  readonly autoKey: boolean;
}

export const NO_TRIAL: TrialSlice = {
  trial: null,
  trialId: null,
  trialRevision: 0,
  trialKept: null,
  trialHistory: NO_HISTORY,
  piece: null,
  watched: null,
  tried: null,
  seen: null,
  spokenLines: 0,
  autoKey: true,
};

/** Puts a trial on the ruler. @param revision 0 for one that is not kept yet. */
export const openTrial = (store: SessionStore, trialId: string, trial: Trial, revision: number): void =>
  store.setState({
    ...NO_TRIAL,
    trial,
    trialId,
    trialRevision: revision,
    trialKept: revision > 0 ? trial : null,
    watched: store.getState().watched,
  });

/** Changes the trial; one step of its history. @param same a change that goes on with the last one, as in a drag. */
export const changeTrial = (store: SessionStore, change: (trial: Trial) => Trial, same = false): void =>
  store.setState(({ trial, trialHistory }) => {
    if (!trial) return {};
    const next = change(trial);
    if (next === trial) return {};
    return { trial: next, ...(same ? {} : { trialHistory: remembered(trialHistory, trial) }) };
  });

/** A piece changed where it stands. */
export const changePiece = (store: SessionStore, id: string, change: Partial<Piece>, same = false): void =>
  changeTrial(store, (trial) => withPiece(trial, id, (p) => ({ ...p, ...change }) as Piece), same);

/** The trial with one of its pieces changed; null takes it out. */
export function withPiece(trial: Trial, id: string, change: (piece: Piece) => Piece | null): Trial {
  const lanes = Object.fromEntries(
    LANES.map((lane) => [lane, trial.lanes[lane].flatMap((p) => (p.id === id ? (change(p) ?? []) : [p]))]),
  ) as Trial["lanes"];
  return { ...trial, lanes };
}

export const pieceOf = (trial: Trial, id: string | null): { lane: Lane; piece: Piece } | null => {
  for (const lane of LANES) {
    const piece = trial.lanes[lane].find((p) => p.id === id);
    if (piece) return { lane, piece };
  }
  return null;
};

export const addPiece = (store: SessionStore, lane: Lane, piece: Piece): void => {
  changeTrial(store, (t) => ({ ...t, lanes: { ...t.lanes, [lane]: [...t.lanes[lane], piece] } }));
  store.setState({ piece: piece.id });
};
export const removePiece = (store: SessionStore, id: string): void => {
  changeTrial(store, (t) => withPiece(t, id, () => null));
  store.setState({ piece: null });
};
export const selectPiece = (store: SessionStore, piece: string | null): void => store.setState({ piece });
export const setWatched = (store: SessionStore, watched: Watched | null): void => store.setState({ watched });
export const setTried = (store: SessionStore, tried: Clip | null): void => store.setState({ tried });
export const setAutoKey = (store: SessionStore, autoKey: boolean): void => store.setState({ autoKey });
export const setSeen = (store: SessionStore, seen: TrialSlice["seen"]): void => store.setState({ seen });
export const lineWasSpoken = (store: SessionStore): void =>
  store.setState(({ spokenLines }) => ({ spokenLines: spokenLines + 1 }));
export const setKept = (store: SessionStore, trial: Trial, revision: number): void =>
  store.setState({ trialKept: trial, trialRevision: revision });
/** The trial on the ruler has become one of its own, under a name; what was changed meanwhile stays. */
export const setOwn = (store: SessionStore, trialId: string, name: string, revision: number): void =>
  store.setState(({ trial }) => {
    const named = trial && { ...trial, name };
    return { trialId, trial: named, trialKept: named, trialRevision: revision };
  });
/** What was done to the trial before a step of the ledger is not taken back after it. */
export const forgetTrialHistory = (store: SessionStore): void => store.setState({ trialHistory: NO_HISTORY });
