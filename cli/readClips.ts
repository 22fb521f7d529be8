import path from "node:path";
import { motionFromBvh, motionFromClip, type SourceMotion } from "../core/clips/sourceMotion";
import { sameRestClip } from "../core/clips/bringClip";
import type { Character, Clip } from "../core/model/character";
import { formatOf } from "../core/formats/formats";
import { parseJsonText } from "../core/model/parseJsonText";
import { shortName, UserError } from "../core/model/userError";
import { HUMANOID_BONES } from "../core/names/humanoidBones";
import { readBytes } from "./readCharacter";

/** A movement of a file, with its keys as they are where its figure rests as the character does. */
export interface ClipOfFile {
  readonly source: SourceMotion;
  readonly same: Clip | null;
}

/** The movements of a file: a BVH, or the clips of a GLB; its figure is left out. @throws UserError */
export async function readClips(
  file: string,
  character: Character,
  map: Readonly<Record<string, string | null>>,
  fps?: number,
): Promise<ClipOfFile[]> {
  const name = path.basename(file);
  const bytes = readBytes(file);
  const format = formatOf(name);
  if (format?.clip)
    return [{ source: motionFromBvh(await format.clip({ name, bytes }), stem(name), map, fps), same: null }];
  if (!format?.character || format.holds === "base or target")
    throw new UserError(`Files of the kind ${path.extname(file) || "(none)"} hold no clips.`, name, "Send BVH or GLB.");
  const read = await format.character({ name, bytes }, { bare: true, beside: [] });
  if (!read.skeleton || read.clips.length === 0)
    throw new UserError("There is no clip in it.", name, "Export it with its animation.");
  return read.clips.map((clip) => {
    const source = motionFromClip(read.skeleton!, clip, map, fps);
    return { source, same: fps ? null : sameRestClip(character, read.skeleton!, source, clip) };
  });
}
const stem = (name: string): string => name.replace(/\.[^.]*$/, "");

/** A joint map from a file: joint to humanoid bone, null for none. @throws UserError */
export function readJointMap(file: string): Record<string, string | null> {
  const json = parseJsonText(new TextDecoder().decode(readBytes(file)), file, "The map cannot be read as JSON.");
  if (typeof json !== "object" || json === null || Array.isArray(json))
    throw new UserError("It is no map of joints to bones.", file, 'Write {"joint": "bone", ...}.');
  return Object.fromEntries(
    Object.entries(json as Record<string, unknown>).map(([joint, bone]) => {
      if (bone !== null && !(typeof bone === "string" && HUMANOID_BONES.includes(bone)))
        throw new UserError(
          `${shortName(joint)} is given ${shortName(String(bone))}, which is no humanoid bone of VRM 1.0.`,
          file,
          "Use names as in docs/formats.md, or null.",
        );
      return [joint, bone];
    }),
  );
}
