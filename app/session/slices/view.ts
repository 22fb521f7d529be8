import type { DriverGroup } from "~core/model/poseDriver";
import type { SessionStore } from "../session";
import type { ViewState } from "../urlState";
import type { ShownPlace } from "./selection";

/** What the stage is to look at; `place` beside what a link holds. */
export type Look = Partial<ViewState> & { readonly place?: ShownPlace | null };

/** Changes how it is looked at, or the moment; what is not named stays. */
export const setView = (store: SessionStore, change: Partial<ViewState>): void => store.setState(change);

/** Looks at something anew: a camera turned by hand and a shown place go. */
export const lookAt = (store: SessionStore, look: Look): void =>
  store.setState(({ framed }) => ({ camera: null, place: null, framed: framed + 1, ...look }));

/** Puts the figure into a moment and looks at it; joints and shapes that are not named rest. */
export const showMoment = (store: SessionStore, look: Look): void =>
  store.setState({ pose: {}, weights: {}, camera: null, place: null, ...look });

/** Frames a joint. */
export const lookAtJoint = (store: SessionStore, joint: string, look: Look = {}): void =>
  lookAt(store, { joint, framing: `joint ${joint}`, ...look });

/** Frames what is chosen once more. */
export const frameAgain = (store: SessionStore): void =>
  store.setState((s) => ({ framing: s.joint ? `joint ${s.joint}` : s.framing, camera: null, framed: s.framed + 1 }));

/** Turns a switch of the view over. */
export const toggleView = (store: SessionStore, what: "drivers" | "wires" | "joints" | "dressed"): void =>
  store.setState((s) => ({ [what]: !s[what] }));

/** All joints and shapes at rest; a pose that is being sculpted in stays. */
export const restAll = (store: SessionStore): void =>
  store.setState((s) => (s.sculpt ? {} : { pose: {}, weights: {} }));

/** Sets the weight of one shape; 0 takes it out. */
export const setWeight = (store: SessionStore, shape: string, weight: number): void =>
  store.setState((s) => {
    const { [shape]: _old, ...rest } = s.weights;
    return { weights: weight === 0 ? rest : { ...rest, [shape]: weight } };
  });

/** Whether the figure is looked at without correctives while a key is held. */
export const holdBefore = (store: SessionStore, beforeHeld: boolean): void => store.setState({ beforeHeld });

/** Draws the stage once more: something changed that is no state. */
export const drawAgain = (store: SessionStore): void => store.setState({});

/** Switches a group of drivers off, or on again. */
export const toggleDrivers = (store: SessionStore, group: DriverGroup): void =>
  store.setState(({ driversOff: off }) => ({
    driversOff: off.includes(group) ? off.filter((g) => g !== group) : [...off, group],
  }));
