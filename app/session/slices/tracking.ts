import type { FaceMoment } from "~core/evaluate/moment";
import type { FaceReadings } from "~core/tracking/faceReadings";
import { NO_COUNTS, type StreamCounts } from "~core/tracking/streamCounts";
import type { TakeSettings } from "~core/trials/takePiece";
import { NO_HISTORY, remembered, type History } from "../history";
import type { SessionStore } from "../session";

/** How it stands with the tracker. */
export interface TrackerState {
  /** waiting: connected, and no frame for a while; retrying: it went away and is asked again. */
  readonly status: "off" | "connecting" | "live" | "waiting" | "ended" | "retrying";
  readonly source: string;
  readonly take: string;
  /** Takes that it can be asked for. */
  readonly takes: readonly string[];
  readonly channels: readonly string[];
  /** Frames a second that come. */
  readonly rate: number | null;
  readonly counts: StreamCounts;
  /** Whether the face is lost now. */
  readonly lost: boolean;
  /** From when a frame comes to when it is handed to the stage, ms, lately. */
  readonly drawnMs: number | null;
  /** What went wrong last, in words. */
  readonly said: string;
}
export const NO_TRACKER: TrackerState = {
  status: "off",
  source: "",
  take: "",
  takes: [],
  channels: [],
  rate: null,
  counts: NO_COUNTS,
  lost: false,
  drawnMs: null,
  said: "",
};

/** A face that is tracked now, and how it is laid on the character. */
export interface TrackingSlice {
  /** What it does at this moment; null while none is tracked. */
  readonly live: FaceMoment | null;
  readonly tracker: TrackerState;
  /** Null until the tracker has said what it measures. */
  readonly faceSettings: TakeSettings | null;
  readonly faceHistory: History<TakeSettings>;
  readonly faceReadings: FaceReadings | null;
  /** Since when it is recorded, seconds of the ruler; null while it is not. */
  readonly recording: { readonly start: number; readonly seconds: number } | null;
}
export const NO_TRACKING: TrackingSlice = {
  live: null,
  tracker: NO_TRACKER,
  faceSettings: null,
  faceHistory: NO_HISTORY,
  faceReadings: null,
  recording: null,
};

export const setTracker = (store: SessionStore, change: Partial<TrackerState>): void =>
  store.setState(({ tracker }) => ({ tracker: { ...tracker, ...change } }));
export const showLive = (store: SessionStore, live: FaceMoment | null): void => store.setState({ live });
export const setFaceReadings = (store: SessionStore, faceReadings: FaceReadings | null): void =>
  store.setState({ faceReadings });
export const setRecording = (store: SessionStore, recording: TrackingSlice["recording"]): void =>
  store.setState({ recording });

/** Settings of another tracker: what was done before is not taken back over them. */
export const beginFaceSettings = (store: SessionStore, faceSettings: TakeSettings | null): void =>
  store.setState({ faceSettings, faceHistory: NO_HISTORY });
/** Changes how the live face is laid on. @param same a change that goes on with the last one, as in a drag. */
export const changeFaceSettings = (store: SessionStore, change: Partial<TakeSettings>, same = false): void =>
  store.setState(({ faceSettings, faceHistory }) =>
    faceSettings
      ? {
          faceSettings: { ...faceSettings, ...change },
          ...(same ? {} : { faceHistory: remembered(faceHistory, faceSettings) }),
        }
      : {},
  );
