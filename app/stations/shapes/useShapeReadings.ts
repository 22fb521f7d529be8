import { useEffect } from "react";
import type { ShapeReading } from "~core/measure/measureShapes";
import type { JobOptions } from "~workers/jobPool";
import { clearWay } from "../../session/clearWay";
import { startJob } from "../../session/jobs/pageJobs";
import { readingsStore } from "../../session/kept/keptReadings";
import { useWork } from "../../session/jobs/useWork";
import type { Loaded } from "../../session/session";

export interface ShapeReadings {
  readonly readings: readonly ShapeReading[] | null;
  /** 0..1 while the shapes are measured, else null. */
  readonly share: number | null;
  readonly cancel: () => void;
}

const known = new WeakMap<object, readonly ShapeReading[]>();
/** Kept in this browser by the state of the ledger: the proof of a character looked at before begins at once. */
const kept = readingsStore<readonly ShapeReading[]>("yxomorph-shape-readings", 24);

async function measure(loaded: Loaded, options: JobOptions): Promise<readonly ShapeReading[]> {
  const before = loaded.state ? await kept.get(loaded.state).catch(() => undefined) : undefined;
  if (before?.length === loaded.character.shapes.length) return before;
  await clearWay();
  const now = await startJob(loaded, "shape readings", {}, options);
  if (loaded.state) void kept.keep(loaded.state, now).catch(() => {});
  return now;
}

/** Measures every shape at full, once for each set of shapes. */
export function useShapeReadings(loaded: Loaded | null): ShapeReadings {
  const { running, during, cancel } = useWork("The shapes could not be measured.");
  useEffect(() => {
    if (!loaded || known.has(loaded.character.shapes)) return;
    void during("Measuring every shape", async (progress, signal) => {
      known.set(loaded.character.shapes, await measure(loaded, { progress, signal }));
    });
    return cancel;
  }, [loaded, during, cancel]);
  const readings = (loaded && known.get(loaded.character.shapes)) ?? null;
  return { readings, share: readings ? null : (running?.share ?? null), cancel };
}
