import { useEffect, useMemo } from "react";
import { momentsOf, type WatchMoment } from "~core/trials/moments";
import type { Trial } from "~core/trials/trial";
import type { FrameReading } from "~core/trials/watchFrame";
import { useWork, type Work } from "../../../session/jobs/useWork";
import { keepWatched, keptWatched } from "../../../session/kept/keptWatched";
import { useSession, useSessionStore, type Loaded } from "../../../session/session";
import { setWatched, type Watched } from "../../../session/slices/trial";
import { measureTrial, readyToMeasure } from "./measureTrial";

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

/** After so long on the sheet, ms, a thread is made ready: whoever passes through does not pay for it. */
const SOON = 400;
let ready: Loaded | null = null;
function useReady(loaded: Loaded | null): void {
  useEffect(() => {
    if (!loaded || ready === loaded) return undefined;
    const timer = window.setTimeout(() => {
      ready = loaded;
      readyToMeasure(loaded).catch(() => {}); // the first frames are then waited for, and tell what is wrong
    }, SOON);
    return () => window.clearTimeout(timer);
  }, [loaded]);
}

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
    if (!key) return undefined;
    let here = true;
    void keptWatched(key).then((found) => {
      if (here && found && store.getState().watched?.key !== key) setWatched(store, found);
    });
    return () => {
      here = false;
    };
  }, [key, store]);
  useReady(loaded);
  const watched = shown?.key === key ? shown : null;
  const watch = async (): Promise<void> => {
    if (!loaded || !trial) return;
    await work.during("Watching every frame", async (tell, signal) => {
      const show = (readings: readonly FrameReading[], whole: boolean): Watched => {
        const now: Watched = { key, readings, whole };
        const open = store.getState();
        if (watchKey(open.loaded, open.trial, open.drivers) === key) setWatched(store, now);
        return now;
      };
      const readings = await measureTrial(loaded, trial, drivers, tell, signal, (some) => show(some, false));
      await keepWatched(show(readings, true));
    });
  };
  const fps = trial?.fps ?? 30;
  const moments = watched ? momentsIn(watched, fps) : NO_MOMENTS;
  return { ...work, watch, watched, moments };
}
