import { useSnackbar } from "notistack";
import { useCallback, useEffect, useRef, useState } from "react";
import { useRevalidator } from "react-router";
import { PROFILES } from "~core/checks/profile";
import { REST_MOMENT } from "~core/evaluate/moment";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { postJson, Refusal } from "./ledgerClient";
import { longRun, wasCancelled } from "./measureClient";
import { useSessionStore } from "./session";
import { useCharacterPage } from "./useDesk";

/** Angles measured from one end of a motion to the other. */
const STEPS = 25;

/** A joint that holds no skin is kept as swept, with no rows. */
const NOTHING_BENT = { rows: [], findings: [] };

export interface Sweeps {
  /** What is being swept and how far all of it is, or null. */
  readonly running: { readonly title: string; readonly share: number } | null;
  readonly run: (motions: readonly JointMotion[]) => Promise<void>;
  readonly cancel: () => void;
}

/** Sweeps motions one after the other in the worker and keeps each result as soon as it is there. */
export function useSweeps(): Sweeps {
  const store = useSessionStore();
  const page = useCharacterPage();
  const { revalidate } = useRevalidator();
  const { enqueueSnackbar } = useSnackbar();
  const [running, setRunning] = useState<Sweeps["running"]>(null);
  const stop = useRef<() => void>(() => {});
  const { id } = page.character;
  const { state } = page.ledger;
  useEffect(() => () => stop.current(), []);
  const run = useCallback(
    async (motions: readonly JointMotion[]) => {
      const { loaded, method } = store.getState();
      if (!loaded || loaded.state !== state) return;
      let cancelled = false;
      let current = (): void => {};
      stop.current = () => {
        cancelled = true;
        current();
      };
      let shown = performance.now();
      try {
        for (const [i, motion] of motions.entries()) {
          if (cancelled) break;
          const title =
            motions.length > 1 ? `${motion.label}, ${i + 1} of ${motions.length}` : `Sweeping ${motion.label}`;
          const tell = (share: number): void => setRunning({ title, share: (i + share) / motions.length });
          tell(0);
          const sweep = longRun(
            loaded,
            (api, progress, token) =>
              api.sweep(motion, STEPS, { ...REST_MOMENT, method }, PROFILES.realtime, progress, token),
            tell,
          );
          current = sweep.cancel;
          const result = await sweep.result;
          await postJson(`/api/characters/${encodeURIComponent(id)}/trials`, {
            state,
            motion: motion.id,
            method,
            ...(result ?? NOTHING_BENT),
          });
          if (performance.now() - shown > 1500) {
            await revalidate();
            shown = performance.now();
          }
        }
      } catch (error) {
        if (!wasCancelled(error))
          enqueueSnackbar(
            error instanceof Refusal ? error.message : "The sweep stopped. What was measured before it is kept.",
            { variant: "error" },
          );
      } finally {
        setRunning(null);
        await revalidate();
      }
    },
    [store, state, id, enqueueSnackbar, revalidate],
  );
  return { running, run, cancel: useCallback(() => stop.current(), []) };
}
