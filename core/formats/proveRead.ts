import { assertCharacter } from "../model/assertCharacter";
import type { Character } from "../model/character";
import { isUserError, UserError } from "../model/userError";

/**
 * The character, proved to hold together. @throws UserError with the first place where it does not; nothing that a
 * reader passed over goes further than here.
 */
export function proveRead(character: Character, file: string, todo = "Export it again."): Character {
  try {
    assertCharacter(character);
  } catch (error) {
    if (isUserError(error)) throw error;
    const told = error instanceof Error ? /^assertCharacter: (.*)$/.exec(error.message)?.[1] : undefined;
    throw new UserError(`It does not hold together${told ? `: ${told}` : ""}.`, file, todo);
  }
  return character;
}
