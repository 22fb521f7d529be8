import { useEffect } from "react";
import { missingClips } from "~core/trials/momentAt";
import { askJob } from "../../../session/jobs/pageJobs";
import { makeLoaded, useSession, useSessionStore } from "../../../session/session";
import { setBeside } from "../../../session/slices/beside";
import { setView } from "../../../session/slices/view";
import { useCharacterPage } from "../../../session/useDesk";
import { useBeside, type Beside } from "../../beside";

/**
 * Puts what was chosen to stand beside on the stage, in the place of "before"; it goes with the sheet. Clips that the
 * trial plays and that it does not have are brought over for it.
 */
export function useBesideOnStage(): Beside {
  const store = useSessionStore();
  const { ledger } = useCharacterPage();
  const { baseBlob, head, entries } = ledger;
  const beside = useBeside();
  const trial = useSession((s) => s.trial);
  const { character, short, choice } = beside;
  const lacking = character && trial ? JSON.stringify(missingClips(character, trial)) : "[]";
  useEffect(() => {
    if (!character) return undefined;
    let here = true;
    const bare = makeLoaded(character, `beside ${choice}`, null);
    setBeside(store, { loaded: bare, title: short });
    const names = JSON.parse(lacking) as string[];
    if (names.length) {
      const from = { baseBlob, steps: entries.slice(0, head).map((e) => e.step) };
      void askJob(bare, "borrow clips", { from, names }).then(
        (clips) => {
          if (!here || !clips.length) return;
          const lent = { ...character, clips: [...character.clips, ...clips] };
          setBeside(store, { loaded: makeLoaded(lent, `beside ${choice}`, bare), title: short });
        },
        () => {}, // what cannot be brought over is told as missing
      );
    }
    return () => {
      here = false;
      setBeside(store, null);
    };
  }, [store, character, short, choice, lacking, baseBlob, head, entries]);
  const stands = character !== null;
  useEffect(() => {
    if (!stands) return undefined;
    if (store.getState().compare === "now") setView(store, { compare: "side by side" });
    return () => setView(store, { compare: "now" });
  }, [store, stands]);
  return beside;
}
