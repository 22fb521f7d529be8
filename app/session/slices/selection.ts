import type { Seat } from "~core/edits/repairs/seatPart";
import type { SessionStore } from "../session";

/** A place shown on the stage: some vertices of a part. */
export interface ShownPlace {
  readonly part: string;
  readonly vertices: readonly number[];
  /** How much round it is shown at least, metres. */
  readonly least?: number;
}

/** What is shown of a character beside itself, and what a click means. */
export interface SelectionSlice {
  /** Counts what was asked to be framed: the same thing again, as it has moved since, is framed anew. */
  readonly framed: number;
  readonly place: ShownPlace | null;
  /** How far vertices of a part moved since the delivery before, mm, shown as a heat over any reading. */
  readonly moved: {
    readonly part: string;
    readonly vertices: readonly number[];
    readonly mm: readonly number[];
  } | null;
  /** A part drawn elsewhere while it is being seated, at rest. */
  readonly seat: ({ readonly part: string } & Seat) | null;
  /** What a click on a joint of the stage does; without it the joint is chosen. */
  readonly onPickJoint: ((joint: string) => void) | null;
  /** Joints whose weights neither tools nor brush change, by name. */
  readonly lockedJoints: readonly string[];
}
export const NOTHING_SELECTED: SelectionSlice = {
  framed: 0,
  place: null,
  moved: null,
  seat: null,
  onPickJoint: null,
  lockedJoints: [],
};

/** Shows a place close by; the view that was there before is left. */
export const showPlace = (store: SessionStore, place: ShownPlace): void => store.setState({ camera: null, place });
/** Marks a place without moving the camera. */
export const markPlace = (store: SessionStore, place: ShownPlace): void => store.setState({ place });
export const showMoved = (store: SessionStore, moved: SelectionSlice["moved"]): void => store.setState({ moved });
export const seatPart = (store: SessionStore, seat: SelectionSlice["seat"]): void => store.setState({ seat });
export const chooseJoint = (store: SessionStore, joint: string): void => store.setState({ joint });
export const lockJoints = (store: SessionStore, lockedJoints: readonly string[]): void =>
  store.setState({ lockedJoints });

/** The next click on a joint of the stage is told; null: it chooses again. */
export const pickJoints = (store: SessionStore, onPickJoint: SelectionSlice["onPickJoint"]): void =>
  store.setState(onPickJoint ? { onPickJoint, joints: true } : { onPickJoint });
