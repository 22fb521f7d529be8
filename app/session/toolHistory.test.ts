import { tube } from "../../tests/helpers/characters";
import { dabMask, emptyMask } from "~core/correctives/paintedMask";
import { startSketch } from "~core/correctives/sketch";
import { makeRig } from "~core/deform/rig";
import { beginPaint, dabPaint, type PaintRecord } from "~core/weights/paintWeights";
import { NO_HISTORY, remembered, steppedBack, steppedForward, type History } from "./history";
import { makeLoaded, makeSession, type SessionStore } from "./session";
import { newDraft } from "./slices/tools";
import { redoInTool, toolAtWork, undoInTool } from "./toolHistory";
import { START_VIEW } from "./urlState";

const limb = tube();
const part = limb.parts[0]!;

describe("a history", () => {
  it("goes back and forward, and forgets what was taken back when something else is done", () => {
    let value = 0;
    let history: History<number> = NO_HISTORY;
    const set = (to: number): void => {
      history = remembered(history, value);
      value = to;
    };
    const swap = (record: number): number => {
      const now = value;
      value = record;
      return now;
    };
    for (const to of [1, 2, 3]) set(to);
    history = steppedBack(history, swap)!;
    history = steppedBack(history, swap)!;
    expect(value).toBe(1);
    history = steppedForward(history, swap)!;
    expect(value).toBe(2);
    set(9);
    expect(steppedForward(history, swap)).toBeNull();
    history = steppedBack(history, swap)!;
    expect([value, history.undo.length]).toEqual([2, 2]);
    expect(steppedBack(NO_HISTORY, swap)).toBeNull();
  });
});

describe("undo and redo of tools", () => {
  const desk = (): SessionStore => {
    const store = makeSession(START_VIEW);
    store.setState({ loaded: makeLoaded(limb, "", null) });
    return store;
  };
  const alike = (store: SessionStore, tool: "paint" | "mask" | "sculpt", values: () => number[]): void => {
    const after = values();
    expect(toolAtWork(store.getState())).toBe(tool);
    undoInTool(store, tool);
    const before = values();
    expect(before).not.toEqual(after);
    undoInTool(store, tool);
    expect(values()).toEqual(before);
    redoInTool(store, tool);
    expect(values()).toEqual(after);
    redoInTool(store, tool);
    expect(values()).toEqual(after);
  };
  it("belong to the ledger while no tool is at work", () => expect(toolAtWork(desk().getState())).toBeNull());
  it("take back a stroke of painted weights and make it again", () => {
    const store = desk();
    const of = beginPaint(limb, part.name);
    const record: PaintRecord = new Map();
    dabPaint(of, 1, "add", 1, new Map([[4, 1]]), false, record);
    store.setState({
      paint: { of, tool: "add", ...remembered(NO_HISTORY, record), joints: [], version: 1, draft: newDraft() },
    });
    alike(store, "paint", () => [...of.dense]);
    expect(store.getState().paint!.version).toBeGreaterThan(1);
  });
  it("take back a stroke of the mask while it is painted", () => {
    const store = desk();
    const of = emptyMask(0, part.positions);
    const record = new Map<number, number>();
    dabMask(of, new Map([[5, 1]]), 1, false, record);
    store.setState({ mask: { of, painting: true, ...remembered(NO_HISTORY, record), version: 1, draft: newDraft() } });
    alike(store, "mask", () => [...of.values]);
    store.setState((s) => ({ mask: { ...s.mask!, painting: false } }));
    expect(toolAtWork(store.getState())).toBeNull();
  });
  it("take back a stroke of a sculpt", () => {
    const store = desk();
    const sketch = startSketch(makeRig(limb), 0);
    sketch.deltas[3] = 0.01;
    store.setState({
      sculpt: {
        sketch,
        editing: null,
        joint: "lower",
        motion: null,
        purpose: null,
        ...remembered(NO_HISTORY, new Map([[1, [0, 0, 0] as const]])),
        version: 0,
        name: null,
        draft: newDraft(),
      },
    });
    alike(store, "sculpt", () => [...sketch.deltas]);
  });
});
