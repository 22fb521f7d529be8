import { useEffect, useRef } from "react";
import { missingClips } from "~core/trials/momentAt";
import { askJob } from "../../../session/jobs/pageJobs";
import { makeLoaded, useSession, useSessionStore, type Loaded } from "../../../session/session";
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
  const { baseBlob, head, state } = ledger;
  const own = useRef(ledger.entries);
  useEffect(() => {
    own.current = ledger.entries;
  }, [ledger.entries]);
  const beside = useBeside();
  const trial = useSession((s) => s.trial);
  const { character, short, choice } = beside;
  const lacking = character && trial ? JSON.stringify(missingClips(character, trial)) : "[]";
  useEffect(() => {
    if (!character) return undefined;
    let here = true;
    const bare = makeLoaded(character, `beside ${choice}`, null);
    const put = (loaded: Loaded): void => setBeside(store, { loaded, title: short });
    const names = JSON.parse(lacking) as string[];
    if (!names.length) put(bare);
    else {
      const from = { baseBlob, steps: own.current.slice(0, head).map((e) => e.step) };
      void askJob(bare, "borrow clips", { from, names }).then(
        (clips) => {
          if (!here) return;
          const lent = { ...character, clips: [...character.clips, ...clips] };
          put(makeLoaded(lent, `beside ${choice}`, bare));
        },
        () => here && put(bare), // what cannot be brought over is told as missing
      );
    }
    return () => {
      here = false;
      setBeside(store, null);
    };
  }, [store, character, short, choice, lacking, baseBlob, head, state]);
  const stands = character !== null;
  useEffect(() => {
    if (!stands) return undefined;
    if (store.getState().compare === "now") setView(store, { compare: "side by side" });
    return () => setView(store, { compare: "now" });
  }, [store, stands]);
  return beside;
}
