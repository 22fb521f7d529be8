import { useEffect } from "react";
import { makeLoaded, useSessionStore } from "../../../session/session";
import { setBeside } from "../../../session/slices/beside";
import { setView } from "../../../session/slices/view";
import { useBeside, type Beside } from "../../beside";

/** Puts what was chosen to stand beside on the stage, in the place of "before"; it goes with the sheet. */
export function useBesideOnStage(): Beside {
  const store = useSessionStore();
  const beside = useBeside();
  const { character, title, choice } = beside;
  useEffect(() => {
    if (!character) return undefined;
    setBeside(store, { loaded: makeLoaded(character, `beside ${choice}`, null), title });
    if (store.getState().compare === "now") setView(store, { compare: "side by side" });
    return () => {
      setBeside(store, null);
      setView(store, { compare: "now" });
    };
  }, [store, character, title, choice]);
  return beside;
}
