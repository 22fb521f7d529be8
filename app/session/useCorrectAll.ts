import { useSnackbar } from "notistack";
import { useCallback, useEffect, useRef, useState } from "react";
import { PROFILES } from "~core/checks/profile";
import type { Character } from "~core/model/character";
import { uniqueName } from "~core/model/uniqueName";
import { dot } from "~core/math/vec3";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { longRun, wasCancelled } from "./measureClient";
import { correctiveItem } from "./sculpt";
import { useSessionStore } from "./session";
import { useDesk } from "./useDesk";

export interface CorrectAll {
  /** What is being proposed and how far all of it is, or null. */
  readonly running: { readonly title: string; readonly share: number } | null;
  /** Proposes correctives for both ends of motions and keeps them as one step; motions that have one already are passed over. */
  readonly run: (motions: readonly JointMotion[]) => Promise<void>;
  readonly cancel: () => void;
}

/** Whether a corrective that is switched on acts along a motion. */
export const isCorrected = (character: Character, m: JointMotion): boolean => character.drivers.some((d) => d.enabled && d.joint === m.joint && Math.abs(dot(d.axis, m.axis)) > 0.98);

/** Correctives by measure for every motion that is over the limits, one after the other in the worker. */
export function useCorrectAll(): CorrectAll {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const { enqueueSnackbar } = useSnackbar();
  const [running, setRunning] = useState<CorrectAll["running"]>(null);
  const stop = useRef<() => void>(() => {});
  useEffect(() => () => stop.current(), []);
  const run = useCallback(async (motions: readonly JointMotion[]) => {
    const { loaded } = store.getState();
    if (!loaded) return;
    const { character } = loaded;
    const ends = motions.filter((m) => !isCorrected(character, m)).flatMap((motion) => [motion.min, motion.max].filter((end) => end !== 0).map((end) => ({ motion, end })));
    const taken = new Set(character.shapes.map((s) => s.name));
    const items: Awaited<ReturnType<typeof correctiveItem>>[] = [];
    try {
      for (const [i, { motion, end }] of ends.entries()) {
        const tell = (share: number): void => setRunning({ title: `${motion.label}, ${i + 1} of ${ends.length}`, share: (i + share) / ends.length });
        tell(0);
        const label = `${motion.label} ${end < 0 ? "below" : "beyond"}`;
        const work = longRun(loaded, (api, progress, token) => api.correctRange(motion, end, label, PROFILES.realtime, progress, token), tell);
        stop.current = work.cancel;
        for (const { shape, driver } of (await work.result)?.made ?? []) {
          const name = uniqueName(shape.name, taken, "corrective");
          items.push(await correctiveItem(character, shape.deltas, { ...driver, shape: name }, name));
        }
      }
      if (!items.length) enqueueSnackbar(ends.length ? "Nothing needed a corrective." : "Every motion over a limit has a corrective already: sculpt it further.", { variant: "info" });
      else if (await addStep({ op: "make correctives", items: items.map((m) => m.item) }, items.map((m) => m.bytes))) enqueueSnackbar(`${items.length} correctives made, as one step. Sweep again to see what they do.`, { variant: "success" });
    } catch (error) {
      if (!wasCancelled(error)) enqueueSnackbar("The correctives could not be proposed.", { variant: "error" });
    } finally {
      setRunning(null);
    }
  }, [store, addStep, enqueueSnackbar]);
  return { running, run, cancel: useCallback(() => stop.current(), []) };
}
