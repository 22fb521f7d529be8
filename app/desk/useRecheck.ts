import { useEffect } from "react";
import { useRevalidator } from "react-router";
import type { CharacterPage } from "~server/services/characterPage";
import { followJob } from "../session/jobs/serverJobs";
import { ask } from "../session/ledgerClient";

/**
 * Has the server check the character when the ledger reached a state that has not been checked; asked again with the
 * next state.
 */
export function useRecheck(page: CharacterPage): void {
  const { revalidate } = useRevalidator();
  const { state } = page.ledger;
  const { id } = page.character;
  const { checked } = page;
  useEffect(() => {
    if (checked) return;
    const left = new AbortController();
    const run = async (): Promise<void> => {
      const { job } = (await ask(`/api/characters/${encodeURIComponent(id)}/checks`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ state }),
      })) as { job: string };
      // a state that was left is checked no further by the server itself: its process is kept for the next
      await followJob(job, () => {}, left.signal, "leave");
      await revalidate();
    };
    run().catch(() => {}); // cancelled, gone on meanwhile, or unreachable
    return () => {
      left.abort();
    };
  }, [checked, state, id, revalidate]);
}
