import { withTracks } from "../../model/character";
import type { Character, ClipTrack } from "../../model/character";
import { UserError } from "../../model/userError";

/** A clip without some of its tracks. @throws UserError when there is no such clip. */
export function mendClip(character: Character, name: string, keep: (track: ClipTrack) => boolean): Character {
  if (!character.clips.some((c) => c.name === name)) throw new UserError(`There is no clip named ${name}.`, "mend", "");
  return {
    ...character,
    clips: character.clips.map((c) => (c.name === name ? withTracks(c, (all) => all.filter(keep)) : c)),
  };
}

/** A clip whose last frame stood twice, without the second of them. @throws UserError when a track has too few keys. */
export function dropLastKey(character: Character, name: string): Character {
  const clip = character.clips.find((c) => c.name === name);
  if (!clip) throw new UserError(`There is no clip named ${name}.`, "mend", "");
  const shorter = withTracks(clip, (tracks) => {
    const end = Math.max(...tracks.map((t) => t.times[t.times.length - 1] ?? 0));
    return tracks.map((t): ClipTrack => {
      const last = t.times.length - 1;
      if (last < 1 || t.times[last]! < end) return t;
      return {
        ...t,
        times: t.times.slice(0, last),
        values: t.values.slice(0, (t.values.length / t.times.length) * last),
      };
    });
  });
  return { ...character, clips: character.clips.map((c) => (c === clip ? shorter : c)) };
}
