import type { Character } from "../model/character";
import { withoutShape } from "../model/withoutShape";
import { bakeMix } from "./bakeMix";

/**
 * The character without any shape: those that are at work stand in its rest places, and joints that they carry rest
 * where they carried them, so that every pose and every clip stands as it stood with them.
 * @param weights of shapes by name that are at work; the rest leave nothing behind.
 */
export function withoutShapes(character: Character, weights: Readonly<Record<string, number>>): Character {
  const named = Object.values(weights).some((w) => w !== 0);
  const still = named ? bakeMix({ ...character, drivers: [] }, weights, true) : character;
  const { baked: _kept, mixes: _mixes, ...bare } = still.shapes.reduce((c, s) => withoutShape(c, s.name), still);
  return { ...bare, clips: bare.clips.map(({ weights: _w, ...clip }) => clip) };
}
