import { useEffect } from "react";
import { useRevalidator } from "react-router";
import { PROFILES } from "~core/checks/profile";
import type { CharacterPage } from "../routes/character";
import { postJson } from "../session/ledgerClient";
import { longRun } from "../session/measureClient";
import { useSession } from "../session/session";

/** Runs the checks again, in the worker, when the ledger reached a state that has not been checked. */
export function useRecheck(page: CharacterPage): void {
  const loaded = useSession((s) => s.loaded);
  const { revalidate } = useRevalidator();
  const { state } = page.ledger;
  const { id } = page.character;
  useEffect(() => {
    if (page.checked || loaded?.state !== state) return;
    const run = longRun(loaded, (api, progress, token) => api.check(PROFILES.realtime, progress, token), () => {});
    run.result
      .then((findings) => postJson(`/api/characters/${id}/checks`, { state, profile: "realtime", findings }))
      .then(() => revalidate())
      .catch(() => {}); // cancelled, or unreachable: asked again with the next state
    return run.cancel;
  }, [page.checked, loaded, state, id, revalidate]);
}
