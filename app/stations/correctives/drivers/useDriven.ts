import { useMemo } from "react";
import { drivenWeights } from "~core/evaluate/drivers/drivenWeight";
import { evaluate } from "~core/evaluate/evaluate";
import { readyShapes } from "~core/evaluate/drivers/readyDrivers";
import { termViewOf } from "~core/evaluate/drivers/termValue";
import type { TermView } from "~core/model/terms/termKind";
import { jointIndexOf } from "~core/model/jointIndex";
import type { Moment } from "~core/evaluate/moment";
import { momentOf, useSession } from "../../../session/session";

/** The moment that the stage shows, made anew only when something of it changes. */
export function useMoment(): Moment {
  const pose = useSession((s) => s.pose);
  const weights = useSession((s) => s.weights);
  const method = useSession((s) => s.method);
  const drivers = useSession((s) => s.drivers);
  const driversOff = useSession((s) => s.driversOff);
  const sources = useSession((s) => s.sources);
  const live = useSession((s) => s.live);
  return useMemo(
    () => momentOf({ pose, weights, method, drivers, driversOff, sources, live }),
    [pose, weights, method, drivers, driversOff, sources, live],
  );
}

/** Weights that drivers give now, by shape. */
export function useDriven(): (shape: string) => number {
  const character = useSession((s) => s.loaded!.character);
  const moment = useMoment();
  const all = useMemo(() => drivenWeights(character, moment), [character, moment]);
  return (shape) => all[readyShapes(character).shapeIndex.get(shape) ?? -1] ?? 0;
}

/** What terms read now. */
export function useTermView(): TermView {
  const character = useSession((s) => s.loaded!.character);
  const moment = useMoment();
  return useMemo(() => {
    const { turns, weights } = evaluate(character, moment);
    const joints = character.skeleton ? jointIndexOf(character.skeleton) : new Map<string, number>();
    return termViewOf(joints, readyShapes(character).shapeIndex, turns, weights);
  }, [character, moment]);
}
