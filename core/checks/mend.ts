import type { MendPlace } from "../edits/mend/mendPlace";
import type { Character } from "../model/character";
import { untold, type ShareDone } from "../model/shareDone";
import { UserError } from "../model/userError";
import { entryOf } from "./entries";

export type { MendPlace } from "../edits/mend/mendPlace";

/** What one click would do about a finding, or null when no repair is safe. */
export const mendSentence = (finding: MendPlace): string | null => entryOf(finding.check)?.mend?.says(finding) ?? null;

/** The character after the repair. @throws UserError when there is none for the check, or its place is gone. */
export function mend(character: Character, place: MendPlace, tell: ShareDone = untold): Character {
  const repair = entryOf(place.check)?.mend;
  if (!repair)
    throw new UserError(
      `There is no safe repair for ${place.check}.`,
      "mend",
      "Repair it where the character was made.",
    );
  return repair.apply(character, place, tell);
}
