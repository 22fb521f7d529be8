import type { Character } from "../model/character";
import type { Finding } from "./finding";

/** A combination is as bad as its shapes alone when its value lies within this share of theirs. */
const SAME = 1.05;

/**
 * Findings without those of combinations that only repeat what one of the shapes they answer does alone: the fault is
 * mended there.
 */
export function withoutRepeats(character: Character, findings: readonly Finding[]): Finding[] {
  const sources = new Map(character.shapeDrivers.filter((d) => d.of.length > 1).map((d) => [d.shape, d.of]));
  return findings.filter((f) => {
    const of = f.shape === null ? undefined : sources.get(f.shape);
    return (
      !of ||
      !findings.some(
        (g) =>
          g.check === f.check &&
          g.part === f.part &&
          of.includes(g.shape ?? "") &&
          g.value !== null &&
          f.value !== null &&
          f.value <= SAME * g.value,
      )
    );
  });
}
