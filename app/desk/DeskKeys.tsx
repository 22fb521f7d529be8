import { useHotkeys } from "react-hotkeys-hook";
import type { ReactNode } from "react";
import { useSessionStore } from "../session/session";
import { useDesk } from "../session/useDesk";
import { useGoToStation } from "../session/useGoToStation";
import { redoInTool, toolAtWork, undoInTool } from "../session/toolHistory";
import { playerOf } from "../session/playback";
import { STATIONS } from "./stations";
import { frameAgain, holdBefore, restAll, toggleView } from "../session/slices/view";

/** Keys of the desk, as listed in the help. */
export function DeskKeys(): ReactNode {
  const store = useSessionStore();
  const { undo, redo } = useDesk();
  const go = useGoToStation();
  useHotkeys("1,2,3,4,5,6", (e) => {
    const station = STATIONS[Number(e.key) - 1];
    if (station) go(station.path);
  });
  /** Undo and redo belong to the tool that is at work, else to the ledger. */
  const step = (inTool: typeof undoInTool, inLedger: () => Promise<void>) => (): void => {
    const tool = toolAtWork(store.getState());
    if (tool) inTool(store, tool);
    else void inLedger();
  };
  useHotkeys("u, mod+z", step(undoInTool, undo), { preventDefault: true });
  useHotkeys("shift+u, mod+shift+z, mod+y", step(redoInTool, redo), { preventDefault: true });
  // a button or slider that has the focus takes these keys for itself
  const player = playerOf(store);
  const playing =
    (act: () => void) =>
    (e: KeyboardEvent): void => {
      const { of } = store.getState().playback;
      if (of === null || (e.target instanceof Element && e.target.closest("button, a, input, [role=slider]"))) return;
      e.preventDefault();
      act();
    };
  useHotkeys(
    "space",
    playing(() => player.toggle()),
  );
  useHotkeys(
    "comma",
    playing(() => player.step(-1)),
  );
  useHotkeys(
    "period",
    playing(() => player.step(1)),
  );
  useHotkeys("f", () => frameAgain(store));
  useHotkeys("w", () => toggleView(store, "wires"));
  useHotkeys("j", () => toggleView(store, "joints"));
  useHotkeys("r", () => restAll(store));
  useHotkeys("b", () => holdBefore(store, true), { keydown: true });
  useHotkeys("b", () => holdBefore(store, false), { keyup: true, keydown: false });
  useHotkeys("?", () => window.dispatchEvent(new Event("yxomorph-help")), { useKey: true });
  return null;
}
