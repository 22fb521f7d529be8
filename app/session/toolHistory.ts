import { revertMask } from "~core/correctives/paintedMask";
import { revertStroke } from "~core/correctives/sketch";
import { swapPaint } from "~core/weights/paintWeights";
import { steppedBack, steppedForward, type History } from "./history";
import type { ScanPlaces } from "./scan";
import type { Session, SessionStore } from "./session";

export type HistoryTool = "sculpt" | "paint" | "mask" | "scan" | "face" | "trial";

/** The tool that undo and redo belong to now; null where they belong to the ledger. */
export function toolAtWork(s: Session): HistoryTool | null {
  const { sculpt, paint, mask, scan, trial, trialHistory, faceHistory } = s;
  if (sculpt) return "sculpt";
  if (paint) return "paint";
  if (mask?.painting) return "mask";
  if (scan && scan.undo.length + scan.redo.length > 0) return "scan";
  // the channels of a live face, unless a piece on the ruler is worked on
  if (s.tracker.status !== "off" && s.piece === null && faceHistory.undo.length + faceHistory.redo.length > 0)
    return "face";
  return trial && trialHistory.undo.length + trialHistory.redo.length > 0 ? "trial" : null;
}

/** How many changes the tool at work can take back, and make again. */
export function toolChanges(s: Session): {
  readonly tool: HistoryTool | null;
  readonly undo: number;
  readonly redo: number;
} {
  const tool = toolAtWork(s);
  const histories = {
    sculpt: s.sculpt,
    paint: s.paint,
    mask: s.mask,
    scan: s.scan,
    face: s.faceHistory,
    trial: s.trialHistory,
  };
  const held: History<unknown> | null = tool && (histories[tool] as History<unknown> | null);
  return { tool, undo: held?.undo.length ?? 0, redo: held?.redo.length ?? 0 };
}

type Step = <T>(history: History<T>, swap: (record: T) => T) => History<T> | null;

function move(store: SessionStore, tool: HistoryTool, step: Step): void {
  const { sculpt, paint, mask, scan, trial, trialHistory, faceSettings, faceHistory } = store.getState();
  if (tool === "sculpt" && sculpt) {
    const now = step(sculpt, (record) => revertStroke(sculpt.sketch, record));
    if (now) store.setState({ sculpt: { ...sculpt, ...now, version: sculpt.version + 1 } });
  } else if (tool === "paint" && paint) {
    const now = step(paint, (record) => {
      swapPaint(paint.of, record);
      return record;
    });
    if (now) store.setState({ paint: { ...paint, ...now, version: paint.version + 1 } });
  } else if (tool === "mask" && mask) {
    const now = step(mask, (record) => revertMask(mask.of, record));
    if (now) store.setState({ mask: { ...mask, ...now, version: mask.version + 1 } });
  } else if (tool === "scan" && scan) {
    let places: ScanPlaces = scan.places;
    const now = step(scan, (record) => {
      places = record;
      return scan.places;
    });
    if (now) store.setState({ scan: { ...scan, ...now, places, laid: null } });
  } else if (tool === "face" && faceSettings) {
    let shown = faceSettings;
    const now = step(faceHistory, (record) => {
      const before = shown;
      shown = record;
      return before;
    });
    if (now) store.setState({ faceSettings: shown, faceHistory: now });
  } else if (tool === "trial" && trial) {
    let shown = trial;
    const now = step(trialHistory, (record) => {
      shown = record;
      return trial;
    });
    if (now) store.setState({ trial: shown, trialHistory: now });
  }
}

/** Takes back the last change that a tool holds; does nothing when there is none. */
export const undoInTool = (store: SessionStore, tool: HistoryTool): void => move(store, tool, steppedBack);
/** Makes the change again that was taken back last. */
export const redoInTool = (store: SessionStore, tool: HistoryTool): void => move(store, tool, steppedForward);
