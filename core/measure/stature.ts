import type { Character } from "../model/character";

/** Height of the body or, where no part is known as the body, of everything; metres if the file is in metres. */
export function statureOf(character: Character): number {
  const body = character.parts.filter((p) => p.kind === "body");
  let lo = Infinity;
  let hi = -Infinity;
  for (const part of body.length ? body : character.parts)
    for (const v of part.corners) {
      const y = part.positions[3 * v + 1]!;
      if (y < lo) lo = y;
      if (y > hi) hi = y;
    }
  return hi > lo ? hi - lo : 0;
}
const SLIPS: readonly (readonly [factor: number, unit: string])[] = [
  [100, "centimetres"],
  [1000, "millimetres"],
  [39.37, "inches"],
  [2.54, "centimetres read as inches"],
];
/** Unit a stature was most likely meant in, when it is not believable in metres. */
export function likelyUnit(stature: number): { factor: number; unit: string } | null {
  for (const [factor, unit] of SLIPS) if (stature / factor >= 1.0 && stature / factor <= 2.2) return { factor, unit };
  for (const [factor, unit] of SLIPS)
    if (stature * factor >= 1.0 && stature * factor <= 2.2)
      return { factor: 1 / factor, unit: `metres shrunk as if from ${unit}` };
  return null;
}
