import { useEffect, useMemo } from "react";
import { PROFILES } from "~core/checks/profile";
import { coarseFirst, momentsOf, type WatchMoment } from "~core/trials/moments";
import { trialFrames, type Trial } from "~core/trials/trial";
import type { FrameReading } from "~core/trials/watchFrame";
import { askJob, shareJob } from "../../../session/jobs/pageJobs";
import { useWork, type Work } from "../../../session/jobs/useWork";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { setWatched, type Watched } from "../../../session/slices/trial";

/** Frames that are measured before they are shown: few at first, so that something is seen at once. */
const FIRST = 4;
const BATCH = 24;

/** What was measured belongs to a state, and to what the trial plays; its name is nothing to it. */
export const watchKey = (loaded: Loaded | null, trial: Trial | null, drivers: boolean): string =>
  loaded && trial ? `${loaded.state} ${drivers} ${JSON.stringify({ ...trial, name: "" })}` : "";

export interface Watching extends Work {
  readonly watch: () => Promise<void>;
  /** What was measured of the trial as it stands; null before. */
  readonly watched: Watched | null;
  readonly moments: readonly WatchMoment[];
}

const NO_MOMENTS: readonly WatchMoment[] = [];
const told = new WeakMap<Watched, readonly WatchMoment[]>();
/** The moments of what was measured, made once for the sheet and the ruler; its key holds the rate. */
function momentsIn(watched: Watched, fps: number): readonly WatchMoment[] {
  const found = told.get(watched) ?? momentsOf(watched.readings, fps);
  told.set(watched, found);
  return found;
}

const known = new Map<string, Watched>();
/** Trials whose measures are kept. */
const MOST_KEPT = 8;

/** Measures every frame of the trial on the ruler, coarsely first; what is in is shown while it goes on. */
export function useWatch(): Watching {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const drivers = useSession((s) => s.drivers);
  const shown = useSession((s) => s.watched);
  const work = useWork("The trial could not be watched.");
  const key = useMemo(() => watchKey(loaded, trial, drivers), [loaded, trial, drivers]);
  useEffect(() => {
    const found = known.get(key);
    if (found && store.getState().watched?.key !== key) setWatched(store, found);
  }, [key, store]);
  const watched = shown?.key === key ? shown : null;
  const watch = async (): Promise<void> => {
    if (!loaded || !trial) return;
    await work.during("Watching every frame", async (tell, signal) => {
      const profile = PROFILES.realtime;
      let readings: readonly FrameReading[] = [];
      const show = (whole: boolean): void => {
        const now: Watched = { key, readings, whole };
        const open = store.getState();
        if (watchKey(open.loaded, open.trial, open.drivers) === key) setWatched(store, now);
        if (!whole) return;
        known.delete(key);
        known.set(key, now);
        for (const old of [...known.keys()].slice(0, Math.max(0, known.size - MOST_KEPT))) known.delete(old);
      };
      // feet are read in one go beside the frames, and shown with the first that come after them
      const feet = askJob(loaded, "watch feet", { trial, profile });
      void feet.catch(() => {}); // told where it is waited for
      const frames = coarseFirst(trialFrames(trial));
      for (let i = 0; i < frames.length;) {
        const some = frames.slice(i, i + (i === 0 ? FIRST : BATCH));
        const got = await shareJob<"watch", number, FrameReading>(
          loaded,
          "watch",
          some,
          (part) => ({ trial, frames: [...part], profile, drivers }),
          { progress: (share) => tell((i + share * some.length) / frames.length), signal },
        );
        readings = [...readings, ...got];
        i += some.length;
        show(false);
      }
      readings = [...readings, ...(await feet)];
      show(true);
    });
  };
  const fps = trial?.fps ?? 30;
  const moments = watched ? momentsIn(watched, fps) : NO_MOMENTS;
  return { ...work, watch, watched, moments };
}
