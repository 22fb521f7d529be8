import type { Character, Shape } from "../model/character";
import { mixShapes } from "./mixShapes";
import { poseDriven } from "../model/drivenShapes";

const known = new WeakMap<Character, readonly Shape[]>();

/**
 * The shapes in the states a viewer meets them in at rest: plain ones at full, a combination together with the shapes
 * it answers, an in-between with its shape at the peak. Shapes keep their names, so that a finding stands at the one to
 * mend. Left out is what is switched off, and what joints drive: a corrective is never seen at rest. Found once for a
 * character.
 */
export function shapesAsSeen(character: Character): readonly Shape[] {
  const found = known.get(character) ?? findShapes(character);
  known.set(character, found);
  return found;
}

function findShapes(character: Character): Shape[] {
  const driven = poseDriven(character);
  const byName = new Map(character.shapes.map((s) => [s.name, s]));
  return character.shapes.flatMap((shape): Shape[] => {
    if (driven.has(shape.name)) return [];
    const driver = character.shapeDrivers.find((d) => d.shape === shape.name);
    if (!driver) return [shape];
    if (!driver.enabled) return [];
    const weight = driver.rule === "in-between" ? (driver.span?.peak ?? 0.5) : 1;
    const sources = driver.of.flatMap((n) => byName.get(n) ?? []);
    return [{ ...shape, deltas: mixShapes([[shape, 1], ...sources.map((s) => [s, weight] as const)]) }];
  });
}
