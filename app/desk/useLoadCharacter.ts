import { useEffect } from "react";
import type { CharacterPage } from "~server/services/characterPage";
import { fetchWhenClear } from "../session/clearWay";
import { noteState } from "../session/characterStates";
import { loadCharacter, readyForSteps } from "../session/loadCharacter";
import { makeLoaded, setLoadError, setLoaded, useSessionStore } from "../session/session";

/** Puts the character of the page's ledger on the desk whenever its state changes. */
export function useLoadCharacter(page: CharacterPage): void {
  const store = useSessionStore();
  const { baseBlob, head, state, entries } = page.ledger;
  const { name } = page.character;
  useEffect(() => {
    if (store.getState().loaded?.state === state) return;
    let wanted = true;
    const steps = entries.slice(0, head).map((e) => e.step);
    loadCharacter(baseBlob, steps)
      .then((character) => {
        if (!wanted) return;
        const loaded = makeLoaded({ ...character, name }, state, store.getState().loaded);
        noteState(loaded.character, { baseBlob, steps });
        setLoaded(store, loaded);
        fetchWhenClear(readyForSteps);
      })
      .catch(
        (error: unknown) =>
          wanted && setLoadError(store, error instanceof Error ? error.message : "The character could not be shown."),
      );
    return () => {
      wanted = false;
    };
  }, [baseBlob, state, head, entries, name, store]);
}
