import { useEffect } from "react";
import { askJob } from "../session/jobs/pageJobs";
import { momentOf, setMeasured, type Session, useSessionStore } from "../session/session";

/** Whether the stage shows the figure without correctives and without what is being sculpted: then that is measured. */
const isBefore = (s: Session): boolean => s.beforeHeld || s.compare === "before";
const relevant = (s: Session): unknown[] => [
  s.loaded,
  s.joint,
  s.pose,
  s.weights,
  s.method,
  s.drivers,
  s.driversOff,
  s.sculpt?.version,
  s.sculpt?.sketch,
  isBefore(s),
];

/** Keeps the measures of the chosen joint up to date with the pose, in the worker; the newest question wins. */
export function useMeasure(): void {
  const store = useSessionStore();
  useEffect(() => {
    let running = false;
    let again = false;
    let last: unknown[] = [];
    const run = async (): Promise<void> => {
      if (running) {
        again = true;
        return;
      }
      const s = store.getState();
      if (!s.loaded || !s.joint) {
        if (s.measured) setMeasured(store, null);
        return;
      }
      running = true;
      const { joint, loaded, sculpt } = s;
      try {
        const sketch =
          sculpt && !isBefore(s)
            ? { part: sculpt.sketch.part, deltas: sculpt.sketch.deltas, weight: sculpt.sketch.weight }
            : null;
        const moment = isBefore(s) ? { ...momentOf(s), drivers: false } : momentOf(s);
        const answer = await askJob(loaded, "measure joint", { joint, moment, sketch });
        if (store.getState().joint === joint) setMeasured(store, answer && { joint, ...answer });
      } finally {
        running = false;
        if (again) {
          again = false;
          void run();
        }
      }
    };
    const look = (): void => {
      const now = relevant(store.getState());
      if (now.every((x, i) => x === last[i]) && now.length === last.length) return;
      last = now;
      void run();
    };
    look();
    return store.subscribe(look);
  }, [store]);
}
