import { shapeNamed, type Character, type Part, type Shape } from "../../model/character";
import { UserError } from "../../model/userError";

export function partNamed(character: Character, name: string): { part: Part; index: number } {
  const index = character.parts.findIndex((p) => p.name === name);
  if (index < 0)
    throw new UserError(`There is no part named ${name}.`, "mend", "It may have been removed by another step.");
  return { part: character.parts[index]!, index };
}

export function neededShape(character: Character, name: string): Shape {
  const shape = shapeNamed(character, name);
  if (!shape)
    throw new UserError(`There is no shape named ${name}.`, "mend", "It may have been removed by another step.");
  return shape;
}

/** The character with one part changed; all others stay the same objects. */
export const withPart = (character: Character, index: number, part: Part): Character => ({
  ...character,
  parts: character.parts.map((p, i) => (i === index ? part : p)),
});
