import type { Character, ClipTrack } from "../model/character";
import { UserError } from "../model/userError";

/** A clip without some of its tracks. @throws UserError when there is no such clip. */
export function mendClip(character: Character, name: string, keep: (track: ClipTrack) => boolean): Character {
  if (!character.clips.some((c) => c.name === name)) throw new UserError(`There is no clip named ${name}.`, "mend", "");
  return { ...character, clips: character.clips.map((c) => (c.name === name ? { ...c, tracks: c.tracks.filter(keep) } : c)) };
}
