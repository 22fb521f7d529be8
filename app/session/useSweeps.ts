import { useCallback } from "react";
import { useRevalidator } from "react-router";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { postJson } from "./ledgerClient";
import { startJob } from "./jobs/pageJobs";
import { useToldWork } from "./jobs/useToldWork";
import type { Work } from "./jobs/useWork";
import { useSessionStore } from "./session";
import { useCharacterPage } from "./useDesk";

/** Angles measured from one end of a motion to the other. */
const STEPS = 25;

export interface Sweeps {
  /** What is being swept and how far all of it is, or null. */
  readonly running: Work["running"];
  readonly run: (motions: readonly JointMotion[]) => Promise<void>;
  readonly cancel: () => void;
}

/** Sweeps motions one after the other in a thread and keeps each result as soon as it is there. */
export function useSweeps(): Sweeps {
  const store = useSessionStore();
  const page = useCharacterPage();
  const { revalidate } = useRevalidator();
  const { running, during, cancel } = useToldWork("The sweep stopped. What was measured before it is kept.");
  const { id } = page.character;
  const { state } = page.ledger;
  const run = useCallback(
    async (motions: readonly JointMotion[]) => {
      const { loaded, method } = store.getState();
      if (!loaded || loaded.state !== state || motions.length === 0) return;
      const titleOf = (motion: JointMotion, i: number): string =>
        motions.length > 1 ? `${motion.label}, ${i + 1} of ${motions.length}` : `Sweeping ${motion.label}`;
      await during(titleOf(motions[0]!, 0), async (tell, signal) => {
        let shown = performance.now();
        for (const [i, motion] of motions.entries()) {
          const progress = (share: number): void => tell((i + share) / motions.length, titleOf(motion, i));
          progress(0);
          const input = { motions: [motion.id], steps: STEPS, method, profile: "realtime" as const };
          const [swept] = await startJob(loaded, "sweep", input, { progress, signal });
          await postJson(`/api/characters/${encodeURIComponent(id)}/trials`, {
            state,
            motion: motion.id,
            method,
            ...swept,
          });
          if (performance.now() - shown > 1500) {
            await revalidate();
            shown = performance.now();
          }
        }
      });
      await revalidate();
    },
    [store, state, id, during, revalidate],
  );
  return { running, run, cancel };
}
