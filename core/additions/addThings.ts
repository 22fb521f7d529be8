import { z } from "zod";
import { decodeContainer, encodeContainer } from "../formats/container";
import type { Character, Clip, Material, Shape, SkinBinding } from "../model/character";
import { imagesOf, sameLook } from "../model/materialLook";
import { uniqueName } from "../model/uniqueName";
import { UserError } from "../model/userError";
import type { AddedPart } from "./bringAdditions";

const partSchema = z.object({ part: z.object({ name: z.string(), positions: z.instanceof(Float32Array), corners: z.instanceof(Uint32Array), faceStarts: z.instanceof(Uint32Array) }).loose(), materials: z.array(z.object({ name: z.string() }).loose()), joints: z.array(z.string()), moves: z.array(z.object({ shape: z.string(), vertices: z.instanceof(Uint32Array), deltas: z.instanceof(Float32Array) })) });
const clipSchema = z.object({ name: z.string(), tracks: z.array(z.object({ joint: z.string(), path: z.enum(["translation", "rotation", "scale"]), interpolation: z.enum(["LINEAR", "STEP", "CUBICSPLINE"]), times: z.instanceof(Float32Array), values: z.instanceof(Float32Array) })) });

export const encodeAdded = (thing: AddedPart | Clip): Uint8Array<ArrayBuffer> => encodeContainer(thing);

/** The character with a part that came by itself. @throws UserError when the bytes are not a part that fits, or its name is taken. */
export function addPart(character: Character, bytes: Uint8Array): Character {
  const read = partSchema.safeParse(decodeContainer(bytes));
  if (!read.success) throw new UserError("What is kept of the part cannot be read.", "add parts", "Take it in again from its file.");
  const { part, materials, moves, joints } = read.data as unknown as AddedPart;
  if (character.parts.some((p) => p.name === part.name)) throw new UserError(`A part named ${part.name} is here already.`, "add parts", "Rename one of them, or leave the old one out first.");
  const skin = boundHere(character, part.skin, joints);
  const index = character.parts.length;
  const names = new Set(character.materials.map((m) => m.name));
  const known = materials.map((m) => character.materials.findIndex((x) => sameMaterial(x, m)));
  const fresh: Material[] = [];
  const at = materials.map((m, i) => (known[i]! >= 0 ? known[i]! : character.materials.length + fresh.push({ ...m, name: uniqueName(m.name, names, "material") }) - 1));
  return {
    ...character,
    materials: [...character.materials, ...fresh],
    parts: [...character.parts, { ...part, skin, groups: part.groups.map((g) => ({ ...g, material: at[g.material] ?? 0 })) }],
    shapes: character.shapes.map((s): Shape => {
      const move = moves.find((m) => m.shape === s.name);
      return move ? { ...s, deltas: [...s.deltas, { part: index, vertices: move.vertices, deltas: move.deltas }] } : s;
    }),
  };
}

/** The binding on the character's joints by their names; null, so that the part comes unbound, when one that holds weight is not there. */
function boundHere({ skeleton }: Character, skin: SkinBinding | null, names: readonly string[]): SkinBinding | null {
  if (!skin || !skeleton) return null;
  const index = names.map((name) => skeleton.joints.findIndex((j) => j.name === name));
  for (let n = 0; n < skin.weights.length; n++) if (skin.weights[n]! > 0 && !((index[skin.joints[n]!] ?? -1) >= 0)) return null;
  return { ...skin, joints: skin.joints.map((j) => Math.max(0, index[j] ?? 0)) };
}

const sameMaterial = (a: Material, b: Material): boolean => a.name === b.name && imagesOf(a).length === 0 && sameLook(a, b);

/** The character with a clip that came by itself. @throws UserError when it cannot be read, moves nothing here, or its name is taken. */
export function addClip(character: Character, bytes: Uint8Array): Character {
  const read = clipSchema.safeParse(decodeContainer(bytes));
  if (!read.success) throw new UserError("What is kept of the clip cannot be read.", "add clips", "Take it in again from its file.");
  const clip: Clip = read.data;
  if (character.clips.some((c) => c.name === clip.name)) throw new UserError(`A clip named ${clip.name} is here already.`, "add clips", "Rename one of them.");
  return { ...character, clips: [...character.clips, clip] };
}
