import { z } from "zod";
import { decodeContainer, encodeContainer } from "../formats/container";
import {
  MAP_SLOTS,
  PART_KINDS,
  type Character,
  type Clip,
  type Material,
  type Part,
  type Shape,
  type SkinBinding,
} from "../model/character";
import { matchFewByWords } from "../names/matchByWords";
import { fitClip } from "../clips/fitClip";
import { fittingSchema, type Fitting } from "../model/fitting";
import { cleanName } from "../model/cleanName";
import { proveRead } from "../formats/proveRead";
import { imagesOf, sameLook } from "../model/materialLook";
import { uniqueName } from "../model/uniqueName";
import { UserError } from "../model/userError";
import type { AddedPart } from "./bringAdditions";

const floats = z.instanceof(Float32Array);
const numbers = z.instanceof(Uint32Array);
const name = z
  .string()
  .min(1)
  .max(400)
  .refine((n) => n === cleanName(n), "a name that cannot be kept");
const image = z.object({ name: z.string(), mimeType: z.string(), bytes: z.instanceof(Uint8Array) });
const colour = z.tuple([z.number(), z.number(), z.number()]);
const materialSchema = z.object({
  name,
  baseColor: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  roughness: z.number(),
  metallic: z.number(),
  opacity: z.enum(["opaque", "mask", "blend"]),
  alphaCutoff: z.number(),
  doubleSided: z.boolean(),
  texture: image.nullable(),
  maps: z.array(image.extend({ slot: z.enum(MAP_SLOTS), strength: z.number() })).optional(),
  emissive: colour.optional(),
});
const skinSchema = z.object({
  influenceCount: z.number().int().min(1).max(64),
  joints: z.instanceof(Uint16Array),
  weights: floats,
  inverseBinds: floats.nullable(),
});
const partSchema = z.object({
  part: z.object({
    name,
    kind: z.enum(PART_KINDS),
    positions: floats,
    corners: numbers,
    faceStarts: numbers,
    groups: z.array(
      z.object({
        material: z.number().int(),
        name: z.string().optional(),
        faceStart: z.number().int(),
        faceCount: z.number().int(),
      }),
    ),
    uvs: floats.nullable(),
    colors: floats.nullable(),
    skin: skinSchema.nullable(),
    smooth: numbers.optional(),
    cornerLook: z.object({ groups: numbers.nullable(), uvs: floats.nullable() }).optional(),
  }),
  materials: z.array(materialSchema),
  joints: z.array(z.string()),
  moves: z.array(z.object({ shape: z.string(), vertices: numbers, deltas: floats })),
});
const clipSchema = z.object({
  name,
  /** How it is fitted when it is taken. */
  fitting: fittingSchema.nullable().optional(),
  weights: z
    .array(z.object({ shape: z.string(), interpolation: z.enum(["LINEAR", "STEP"]), times: floats, values: floats }))
    .optional(),
  tracks: z.array(
    z.object({
      joint: z.string(),
      path: z.enum(["translation", "rotation", "scale"]),
      interpolation: z.enum(["LINEAR", "STEP", "CUBICSPLINE"]),
      times: z.instanceof(Float32Array),
      values: z.instanceof(Float32Array),
    }),
  ),
});

/** A part or clip as bytes. @param thing a clip as it was before it is fitted, with how it is to be. */
export const encodeAdded = (
  thing: AddedPart | (Clip & { readonly fitting?: Fitting | null }),
): Uint8Array<ArrayBuffer> => encodeContainer(thing);

/**
 * The character with a part that came by itself. @throws UserError when the bytes are not a part that fits, or its name
 * is taken.
 */
export function addPart(character: Character, bytes: Uint8Array): Character {
  const read = partSchema.safeParse(decodeContainer(bytes));
  const { success, data } = read;
  if (
    !success ||
    data.part.groups.some((g) => g.material < 0 || g.material >= data.materials.length) ||
    !skinFits(data.part, data.joints.length)
  )
    throw new UserError("What is kept of the part cannot be read.", "add parts", "Take it in again from its file.");
  const { part, materials, moves, joints } = data as unknown as AddedPart;
  if (character.parts.some((p) => p.name === part.name))
    throw new UserError(
      `A part named ${part.name} is here already.`,
      "add parts",
      "Rename one of them, or leave the old one out first.",
    );
  const skin = boundHere(character, part.skin, joints);
  const index = character.parts.length;
  const names = new Set(character.materials.map((m) => m.name));
  const known = materials.map((m) => character.materials.findIndex((x) => sameMaterial(x, m)));
  const fresh: Material[] = [];
  const at = materials.map((m, i) =>
    known[i]! >= 0
      ? known[i]!
      : character.materials.length + fresh.push({ ...m, name: uniqueName(m.name, names, "material") }) - 1,
  );
  return proveRead(
    {
      ...character,
      materials: [...character.materials, ...fresh],
      parts: [
        ...character.parts,
        { ...part, skin, groups: part.groups.map((g) => ({ ...g, material: at[g.material] ?? 0 })) },
      ],
      shapes: character.shapes.map((s): Shape => {
        const move = moves.find((m) => m.shape === s.name);
        return move
          ? { ...s, deltas: [...s.deltas, { part: index, vertices: move.vertices, deltas: move.deltas }] }
          : s;
      }),
    },
    "add parts",
    "Take it in again from its file.",
  );
}

/** Whether a stored binding names joints of its list only. */
const skinFits = ({ skin, positions }: Pick<Part, "skin" | "positions">, jointCount: number): boolean =>
  !skin ||
  (skin.joints.length === (skin.influenceCount * positions.length) / 3 &&
    skin.weights.length === skin.joints.length &&
    skin.joints.every((j, n) => j < jointCount || skin.weights[n] === 0));

/**
 * The binding on the character's joints by their names; null, so that the part comes unbound, when one that holds
 * weight is not there.
 */
function boundHere({ skeleton }: Character, skin: SkinBinding | null, names: readonly string[]): SkinBinding | null {
  if (!skin || !skeleton) return null;
  const here = skeleton.joints.map((j) => j.name);
  const called = matchFewByWords(names, here);
  const index = names.map((name) => here.indexOf(called.get(name) ?? name));
  for (let n = 0; n < skin.weights.length; n++)
    if (skin.weights[n]! > 0 && !((index[skin.joints[n]!] ?? -1) >= 0)) return null;
  return { ...skin, joints: skin.joints.map((j) => Math.max(0, index[j] ?? 0)) };
}

const sameMaterial = (a: Material, b: Material): boolean =>
  a.name === b.name && imagesOf(a).length === 0 && sameLook(a, b);

/**
 * The character with a clip that came by itself. @throws UserError when it cannot be read, moves nothing here, or its
 * name is taken.
 */
export function addClip(character: Character, bytes: Uint8Array): Character {
  const read = clipSchema.safeParse(decodeContainer(bytes));
  if (!read.success)
    throw new UserError("What is kept of the clip cannot be read.", "add clips", "Take it in again from its file.");
  const called = matchFewByWords(
    [...new Set(read.data.tracks.map((t) => t.joint))],
    character.skeleton?.joints.map((j) => j.name) ?? [],
  );
  const { fitting, weights, ...data } = read.data;
  const plain: Clip = {
    ...data,
    ...(weights ? { weights } : {}),
    tracks: data.tracks.map((t) => ({ ...t, joint: called.get(t.joint) ?? t.joint })),
  };
  const clip = fitting ? fitClip(character, plain, fitting) : plain;
  if (character.clips.some((c) => c.name === clip.name))
    throw new UserError(`A clip named ${clip.name} is here already.`, "add clips", "Rename one of them.");
  return proveRead({ ...character, clips: [...character.clips, clip] }, "add clips", "Take it in again from its file.");
}
