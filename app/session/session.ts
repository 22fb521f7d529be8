import { createContext, useContext } from "react";
import { createStore, useStore, type StoreApi } from "zustand";
import type { Rig } from "~core/deform/rig";
import type { Moment, MomentSource } from "~core/evaluate/moment";
import { makeRig, withShapes } from "~core/deform/rig";
import type { BrushArea, BrushTool, FallOff } from "~core/correctives/brush";
import type { FaceArea } from "~core/correctives/faceMask";
import type { MaskRecord, PaintedMask } from "~core/correctives/paintedMask";
import type { Sketch, StrokeRecord } from "~core/correctives/sketch";
import type { JointFields, JointReading } from "~core/measure/measureJoint";
import type { Seat } from "~core/repairs/seatPart";
import type { Character } from "~core/model/character";
import { humanoidMap, type HumanoidMap } from "~core/skeleton/humanoidMap";
import { jointMotions, type JointMotion } from "~core/skeleton/jointMotions";
import type { PaintRecord, PaintTool, WeightPaint } from "~core/weights/paintWeights";
import type { History } from "./history";
import { NOTHING_PLAYED, type Playback } from "./playback";
import type { ScanState } from "./scan";
import type { SculptPurpose } from "./sculptShape";
import { START_VIEW, type ViewState } from "./urlState";

/** The character on the desk, made ready for posing. */
export interface Loaded {
  readonly character: Character;
  readonly rig: Rig;
  readonly humanoid: HumanoidMap | null;
  readonly motions: readonly JointMotion[];
  readonly state: string;
}

export interface BrushSettings {
  readonly tool: BrushTool;
  readonly radiusMm: number;
  readonly strength: number;
  readonly fallOff: FallOff;
  readonly symmetric: boolean;
  readonly area: BrushArea;
  /** Where the brush may act on a face, for shapes. */
  readonly face: FaceArea;
  /** Whether skin that is pushed into an eyeball or the teeth slides on them, for shapes. */
  readonly onEyes: boolean;
  /** Whether the clothes over the skin, and what else lies on it, go along with a corrective. */
  readonly clothes: boolean;
}

/** A place shown on the stage: some vertices of a part. */
export interface ShownPlace {
  readonly part: string;
  readonly vertices: readonly number[];
  /** How much round it is shown at least, metres. */
  readonly least?: number;
}

export interface Measured {
  readonly joint: string;
  readonly reading: JointReading;
  readonly fields: JointFields;
  readonly share: Float32Array;
}

export interface SculptState extends History<StrokeRecord> {
  readonly sketch: Sketch;
  /** Corrective being edited again, or null for a new one. */
  readonly editing: string | null;
  readonly joint: string;
  /** The motion it corrects, or null where it is a shape of its own. */
  readonly motion: JointMotion | null;
  /** What a sculpt without a motion becomes. */
  readonly purpose: SculptPurpose | null;
  /** Counts changes of the sketch's deltas. */
  readonly version: number;
  /** Name it is to get; null for the one that is proposed. */
  readonly name: string | null;
  /** Under which it is kept in the browser while it is made. */
  readonly draft: string;
  /** Whether the clothes were shown before: they come back when it ends. */
  readonly wasDressed?: boolean;
}

/** Weights being painted, not yet a step. */
export interface PaintState extends History<PaintRecord> {
  readonly of: WeightPaint;
  readonly tool: PaintTool;
  /** Joints that were painted, by name. */
  readonly joints: readonly string[];
  /** Counts changes of the weights. */
  readonly version: number;
  readonly draft: string;
}

/** Where something is kept from acting or made to act, painted over the skin. */
export interface MaskState extends History<MaskRecord> {
  readonly of: PaintedMask;
  /** Whether the brush paints it now; it is shown then. */
  readonly painting: boolean;
  /** Counts changes of the values. */
  readonly version: number;
  readonly draft: string;
}

export interface Session extends ViewState {
  readonly loaded: Loaded | null;
  readonly loadError: string | null;
  readonly place: ShownPlace | null;
  readonly measured: Measured | null;
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
  readonly brush: BrushSettings;
  readonly sculpt: SculptState | null;
  readonly paint: PaintState | null;
  /** Joints whose weights neither tools nor brush change, by name. */
  readonly lockedJoints: readonly string[];
  readonly mask: MaskState | null;
  /** A scanned or sculpted head that the skin is to be laid on. */
  readonly scan: ScanState | null;
  readonly beforeHeld: boolean;
  readonly playback: Playback;
  /** What plays under the hand. */
  readonly sources: readonly MomentSource[];
}

const START: Session = {
  ...START_VIEW,
  loaded: null,
  loadError: null,
  place: null,
  measured: null,
  moved: null,
  seat: null,
  onPickJoint: null,
  sculpt: null,
  paint: null,
  lockedJoints: [],
  mask: null,
  scan: null,
  beforeHeld: false,
  playback: NOTHING_PLAYED,
  sources: [],
  brush: {
    tool: "inflate",
    radiusMm: 30,
    strength: 0.5,
    fallOff: "round",
    symmetric: false,
    area: "anywhere",
    face: "anywhere",
    onEyes: true,
    clothes: true,
  },
};

/** A name under which work is kept in the browser. */
export const newDraft = (): string => crypto.randomUUID();

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

/** Puts a character on the desk; tables of unchanged parts are kept. */
export function makeLoaded(character: Character, state: string, previous: Loaded | null): Loaded {
  const sameParts = previous?.character.parts === character.parts;
  const humanoid = character.skeleton && humanoidMap(character.skeleton, character.jointMap);
  return {
    character,
    state,
    humanoid,
    rig: sameParts ? withShapes(previous.rig, character) : makeRig(character),
    motions: character.skeleton && humanoid ? jointMotions(character.skeleton, humanoid) : [],
  };
}

/** The moment the stage shows. */
export const momentOf = (s: Pick<Session, "pose" | "weights" | "method" | "drivers" | "sources">): Moment => ({
  pose: s.pose,
  weights: s.weights,
  method: s.method,
  drivers: s.drivers,
  sources: s.sources,
});

/** Sets the weight of one shape; 0 takes it out. */
export const setWeight = (store: SessionStore, shape: string, weight: number): void =>
  store.setState((s) => {
    const { [shape]: _old, ...rest } = s.weights;
    return { weights: weight === 0 ? rest : { ...rest, [shape]: weight } };
  });
