import type { BrushArea, BrushTool, FallOff } from "~core/correctives/brush";
import type { FaceArea } from "~core/correctives/faceMask";
import { emptyMask, type MaskRecord, type PaintedMask } from "~core/correctives/paintedMask";
import type { Sketch, StrokeRecord } from "~core/correctives/sketch";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { beginPaint, type PaintRecord, type PaintTool, type WeightPaint } from "~core/weights/paintWeights";
import { NO_HISTORY, remembered, type History } from "../history";
import type { ScanState } from "../scan";
import type { SculptPurpose } from "../sculptShape";
import type { SessionStore } from "../session";

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
  /** Whether the part that is sculpted is shown subdivided. */
  readonly finer: boolean;
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

/** The tools that work on the stage, each with what it has made so far. */
export interface ToolsSlice {
  readonly brush: BrushSettings;
  readonly sculpt: SculptState | null;
  readonly paint: PaintState | null;
  readonly mask: MaskState | null;
  /** A scanned or sculpted head that the skin is to be laid on. */
  readonly scan: ScanState | null;
}
export const NO_TOOLS: ToolsSlice = {
  sculpt: null,
  paint: null,
  mask: null,
  scan: null,
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
    finer: false,
  },
};

/** A name under which work is kept in the browser. */
export const newDraft = (): string => crypto.randomUUID();

export const setBrush = (store: SessionStore, change: Partial<BrushSettings>): void =>
  store.setState((s) => ({ brush: { ...s.brush, ...change } }));

interface Strokes {
  readonly sculpt: StrokeRecord;
  readonly paint: PaintRecord;
  readonly mask: MaskRecord;
}
type Stroked = keyof Strokes;

/** A stroke changed what a tool holds; it goes on. */
export const strokeMoved = (store: SessionStore, tool: Stroked): void =>
  store.setState((s) => ({ [tool]: s[tool] && { ...s[tool], version: s[tool].version + 1 } }));

/** A stroke has ended, or something that is taken back like one. @param record what takes it back. */
export const strokeEnded = <T extends Stroked>(store: SessionStore, tool: T, record: Strokes[T]): void =>
  store.setState((s) => {
    const work = s[tool];
    if (!work) return {};
    const history = remembered(work as unknown as History<Strokes[T]>, record);
    return { [tool]: { ...work, ...history, version: work.version + 1 } };
  });

export const nameSculpt = (store: SessionStore, name: string): void =>
  store.setState((s) => (s.sculpt ? { sculpt: { ...s.sculpt, name } } : {}));

/** Begins painting the weights of a part, which are shown then. @throws UserError where it has none. */
export function startPaint(store: SessionStore, part: string): void {
  const { loaded } = store.getState();
  if (!loaded) return;
  const of = beginPaint(loaded.character, part);
  store.setState({
    paint: { of, tool: "add", ...NO_HISTORY, version: 0, joints: [], draft: newDraft() },
    reading: "weights",
    moved: null,
    place: null,
  });
}
export const setPaintTool = (store: SessionStore, tool: PaintTool): void =>
  store.setState((s) => (s.paint ? { paint: { ...s.paint, tool } } : {}));
/** The brush has painted for a joint. */
export const paintedJoint = (store: SessionStore, joint: string): void =>
  store.setState((s) =>
    s.paint && !s.paint.joints.includes(joint) ? { paint: { ...s.paint, joints: [...s.paint.joints, joint] } } : {},
  );

/** Paints the mask of a part, a fresh one where there is none, or lets the brush rest. */
export const paintMask = (store: SessionStore, part: number, P: Float32Array, painting: boolean): void =>
  store.setState(({ mask }) => ({
    mask:
      mask?.of.part === part
        ? { ...mask, painting }
        : { of: emptyMask(part, P), painting, ...NO_HISTORY, version: 0, draft: newDraft() },
  }));
export const restMask = (store: SessionStore): void =>
  store.setState(({ mask }) => ({ mask: mask && { ...mask, painting: false } }));

/** Puts a tool away; what it holds is kept as a draft, if it was. */
export const putAway = (store: SessionStore, tool: "sculpt" | "paint" | "mask" | "scan"): void =>
  store.setState({ [tool]: null });
