import { useCallback, useEffect, useRef, useState } from "react";
import type { ShapeReading } from "~core/measure/measureShapes";
import { longRun, wasCancelled } from "../../session/measureClient";
import type { Loaded } from "../../session/session";

export interface ShapeReadings {
  readonly readings: readonly ShapeReading[] | null;
  /** 0..1 while the worker measures, else null. */
  readonly share: number | null;
  readonly cancel: () => void;
}

const known = new WeakMap<object, readonly ShapeReading[]>();

/** Measures every shape at full, once for each set of shapes, in the worker. */
export function useShapeReadings(loaded: Loaded | null): ShapeReadings {
  const shapes = loaded?.character.shapes;
  const [done, setDone] = useState<{ shapes: unknown; readings: readonly ShapeReading[] } | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const stop = useRef<() => void>(() => {});
  useEffect(() => {
    if (!loaded || known.has(loaded.character.shapes)) return;
    const run = longRun(loaded, (api, progress, token) => api.shapes(progress, token), setShare);
    stop.current = run.cancel;
    run.result
      .then((readings) => {
        known.set(loaded.character.shapes, readings);
        setDone({ shapes: loaded.character.shapes, readings });
      })
      .catch((error: unknown) => {
        if (!wasCancelled(error)) throw error;
      })
      .finally(() => setShare(null));
    return run.cancel;
  }, [loaded]);
  const readings = (shapes && (known.get(shapes) ?? (done?.shapes === shapes ? done.readings : null))) ?? null;
  return { readings, share: readings ? null : share, cancel: useCallback(() => stop.current(), []) };
}
