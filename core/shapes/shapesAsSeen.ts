import type { Character, Shape } from "../model/character";
import { mixShapes } from "./mixShapes";

/**
 * The shapes in the states a viewer meets them in: plain ones at full, a combination together with the shapes it answers, an in-between with its
 * shape at the peak. Shapes keep their names, so that a finding stands at the one to mend; driven ones that are switched off are left out.
 */
export function shapesAsSeen(character: Character): Shape[] {
  const byName = new Map(character.shapes.map((s) => [s.name, s]));
  return character.shapes.flatMap((shape): Shape[] => {
    const driver = character.shapeDrivers.find((d) => d.shape === shape.name);
    if (!driver) return [shape];
    if (!driver.enabled) return [];
    const weight = driver.rule === "in-between" ? (driver.span?.peak ?? 0.5) : 1;
    const sources = driver.of.flatMap((n) => byName.get(n) ?? []);
    return [{ ...shape, deltas: mixShapes([[shape, 1], ...sources.map((s) => [s, weight] as const)]) }];
  });
}
