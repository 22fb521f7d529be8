import type { Character } from "./character";
import { withoutShapeDriven } from "./changeDrivers";

/** The character without a shape and without what drives it or reads it; mixes go on without it. */
export const withoutShape = (character: Character, name: string): Character => ({
  ...character,
  shapes: character.shapes.filter((s) => s.name !== name),
  drivers: character.drivers.filter((d) => d.shape !== name),
  shapeDrivers: character.shapeDrivers.filter((d) => d.shape !== name && !d.of.includes(name)),
  ...withoutShapeDriven(character, name),
  ...(character.baked ? { baked: character.baked.filter((b) => b.shape !== name) } : {}),
  ...(character.mixes
    ? { mixes: character.mixes.map((m) => ({ ...m, shares: m.shares.filter((x) => x.shape !== name) })) }
    : {}),
});
