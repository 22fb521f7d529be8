import { useEffect } from "react";
import type { ShapeReading } from "~core/measure/measureShapes";
import { startJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import type { Loaded } from "../../session/session";

export interface ShapeReadings {
  readonly readings: readonly ShapeReading[] | null;
  /** 0..1 while the shapes are measured, else null. */
  readonly share: number | null;
  readonly cancel: () => void;
}

const known = new WeakMap<object, readonly ShapeReading[]>();

/** Measures every shape at full, once for each set of shapes. */
export function useShapeReadings(loaded: Loaded | null): ShapeReadings {
  const { running, during, cancel } = useWork("The shapes could not be measured.");
  useEffect(() => {
    if (!loaded || known.has(loaded.character.shapes)) return;
    void during("Measuring every shape", async (progress, signal) => {
      known.set(loaded.character.shapes, await startJob(loaded, "shape readings", {}, { progress, signal }));
    });
    return cancel;
  }, [loaded, during, cancel]);
  const readings = (loaded && known.get(loaded.character.shapes)) ?? null;
  return { readings, share: readings ? null : (running?.share ?? null), cancel };
}
