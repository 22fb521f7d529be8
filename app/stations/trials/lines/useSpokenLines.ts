import { useEffect } from "react";
import { keepSpoken, keyOfLine, linesOf, spokenOf } from "~core/trials/spokenLines";
import type { Trial } from "~core/trials/trial";
import { askJob } from "../../../session/jobs/pageJobs";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { lineWasSpoken } from "../../../session/slices/trial";

/** A pause after a change before lines are worked out anew, ms: a slider that is dragged asks for the last only. */
const SOON = 60;

/** Works out the lines of a trial that are not known yet, on a thread of its own. @returns counts what came in. */
export function useSpokenLines(trial: Trial | null): number {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const beside = useSession((s) => s.beside?.loaded ?? null);
  const count = useSession((s) => s.spokenLines);
  useSpeaking(loaded, trial, () => lineWasSpoken(store));
  useSpeaking(beside, trial, () => lineWasSpoken(store));
  return count;
}

function useSpeaking(loaded: Loaded | null, trial: Trial | null, onSpoken: () => void): void {
  useEffect(() => {
    if (!loaded || !trial) return undefined;
    const { character } = loaded;
    if (linesOf(trial).every((p) => spokenOf(character, trial, p))) return undefined;
    let here = true;
    const timer = window.setTimeout(() => {
      askJob(loaded, "speak lines", { trial })
        .then((lines) => {
          const pieces = linesOf(trial);
          for (const { id, spoken } of lines) {
            const piece = pieces.find((p) => p.id === id);
            if (piece) keepSpoken(character, keyOfLine(trial, piece), spoken);
          }
          if (here) onSpoken();
        })
        .catch(() => {}); // a newer one was asked for
    }, SOON);
    return () => {
      here = false;
      window.clearTimeout(timer);
    };
    // what is told of it is the same whoever listens
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [loaded, trial]);
}
