import { bringClip, sameRestClip, type BroughtClip } from "../clips/bringClip";
import { motionFromBvh, motionFromClip } from "../clips/sourceMotion";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { add, length, scale, sub, type Vec3 } from "../math/vec3";
import { goesWithObj } from "../formats/fileRoles";
import { extension, formatOf } from "../formats/formats";
import type { DeliveryFile } from "./readDelivery";
import { deliveryNames, matchNames } from "./relinkNames";
import {
  vertexCountOf,
  type Character,
  type Clip,
  type Material,
  type Part,
  type SkinBinding,
} from "../model/character";
import { isUserError, UserError, shortName } from "../model/userError";
import { comingJoints, type ComingJoint } from "../skeleton/mergeJoints";
import { humanoidMap } from "../skeleton/humanoidMap";
import { SILENCE } from "../speech/phones";
import { lineOfTextGrid } from "../speech/readLine";
import { speak } from "../speech/speak";
import { uniqueName } from "../model/uniqueName";

/**
 * A part as it would be added: its groups count in its own list of materials, its binding in its own list of joint
 * names.
 */
export interface AddedPart {
  readonly part: Part;
  readonly joints: readonly string[];
  readonly materials: readonly Material[];
  /** What shapes of the character do to it, by their names. */
  readonly moves: readonly { readonly shape: string; readonly vertices: Uint32Array; readonly deltas: Float32Array }[];
}

/** One thing found in the files, with what should be known of it. */
export type Addition = {
  readonly file: string;
  readonly name: string;
  readonly note: string;
  /** Whether it would be taken if nobody chose. */ readonly wanted: boolean;
} & (
  | { readonly what: "part"; readonly added: AddedPart }
  | {
      readonly what: "clip";
      /** On the character's joints, before it is fitted. */
      readonly clip: Clip;
      /** How it is fitted when it is taken; null where its keys are taken as they are. */
      readonly fitting: BroughtClip["fitting"];
      /** Null where its keys are taken as they are. */
      readonly report: BroughtClip["report"] | null;
    }
  | { readonly what: "joints"; readonly joints: readonly ComingJoint[] }
);
export interface Brought {
  readonly additions: readonly Addition[];
  readonly refused: readonly { readonly file: string; readonly why: string }[];
}

const stem = (file: string): string => file.replace(/^.*[\\/]/, "").replace(/\.[^.]*$/, "");

/**
 * What files that came later bring to a character: hair, garments and other parts alone (GLB, OBJ), clips (BVH, and
 * those of a GLB whose joints are the character's), and joints that hang on the character's own (a facial skeleton).
 * What the character has already, by name and number of vertices, is told and not wanted. A file that cannot be used is
 * refused by itself; the others go on.
 */
export async function bringAdditions(
  character: Character,
  files: readonly DeliveryFile[],
  maps: ClipMaps | undefined = {},
): Promise<Brought> {
  const additions: Addition[] = [];
  const refused: Brought["refused"][number][] = [];
  const parts = new Set(character.parts.map((p) => p.name));
  const clips = new Set(character.clips.map((c) => c.name));
  const beside = files.filter((f) => goesWithObj(f.name));
  for (const file of files) {
    if (goesWithObj(file.name)) continue;
    try {
      additions.push(...(await fromFile(character, file, parts, clips, beside, maps[file.name] ?? {})));
    } catch (error) {
      if (!isUserError(error)) throw error;
      // the file's name stands beside it already
      const place =
        error.where.startsWith(file.name) || error.where === shortName(file.name)
          ? error.where.slice(file.name.length).replace(/^[,:\s]+/, "")
          : error.where;
      refused.push({ file: file.name, why: [place && `${place}:`, error.what, error.todo].filter(Boolean).join(" ") });
    }
  }
  return { additions, refused };
}

/** By file, corrections of the joint map of its skeleton: joint to bone, null for none. */
export type ClipMaps = Readonly<Record<string, Readonly<Record<string, string | null>>>>;

const clipAddition = (file: string, { clip, fitting, report }: BroughtClip): Addition => ({
  file,
  what: "clip",
  name: clip.name,
  clip,
  fitting,
  report,
  wanted: true,
  note: report.told.join("; "),
});

/** A line with its phones, spoken by the character's visemes: a clip of weights, its sounds met on the mesh. */
function spokenLine(character: Character, file: string, bytes: Uint8Array, name: string): Addition {
  const line = lineOfTextGrid(bytes, file);
  const { curves, scores, faces } = speak(character, line);
  if (!curves.length)
    throw new UserError(
      "None of its visemes is there, as a shape, a mix or action units.",
      file,
      "Make them at Shapes, Coverage.",
    );
  const missing = faces.filter((f) => f.from === "missing");
  const unmet = scores.filter((s) => !s.met);
  const told = [
    line.words
      .map((w) => w.text)
      .join(" ")
      .slice(0, 80),
    `${line.phones.filter((p) => p.phone !== SILENCE).length} phones`,
    `${scores.length - unmet.length} of ${scores.length} demands met`,
    ...unmet.slice(0, 3).map((s) => `${s.phone} at ${s.at.toFixed(2)} s: ${s.todo}`),
    ...(missing.length ? [`no viseme for ${missing.map((f) => f.sounds).join(", ")}`] : []),
  ];
  const clip = { name, tracks: [], weights: curves };
  return {
    file,
    what: "clip",
    name,
    clip,
    fitting: null,
    report: null,
    wanted: true,
    note: told.filter(Boolean).join("; "),
  };
}

async function fromFile(
  character: Character,
  { name: file, bytes }: DeliveryFile,
  parts: Set<string>,
  clips: Set<string>,
  beside: readonly DeliveryFile[],
  map: ClipMaps[string],
): Promise<Addition[]> {
  if (extension(file) === "textgrid")
    return [spokenLine(character, file, bytes, uniqueName(stem(file), clips, "line"))];
  const format = formatOf(file);
  const given = { name: file, bytes };
  if (format?.clip) {
    const source = motionFromBvh(await format.clip(given), stem(file), map);
    return [clipAddition(file, bringClip(character, source, uniqueName(stem(file), clips, "clip")))];
  }
  if (!format?.character)
    throw new UserError(
      `Files of the kind .${extension(file) || "(none)"} are not read.`,
      shortName(file),
      "Send parts as .glb or .obj, clips as .bvh, spoken lines as .TextGrid.",
    );
  const read = await format.character(given, { bare: true, beside });
  const joints = matchNames(deliveryNames(read), deliveryNames(character)).joints;
  // a facial skeleton with a root of its own hangs on the joint next to it, till another is chosen
  const coming = comingJoints(read, character, joints, rootFor(character, read));
  const grown = coming.length && read.parts.length ? [jointsAddition(file, coming)] : [];
  const hereOrComing = new Set([
    ...(character.skeleton?.joints.map((j) => j.name) ?? []),
    ...coming.map((c) => c.name),
  ]);
  const found = read.parts.map((part, p) => {
    const bound = rebound(part.skin, read, hereOrComing, joints);
    return partAddition(character, read, p, bound, file, (name) => uniqueName(name, parts, stem(file)));
  });
  const moving = read.clips.flatMap((c) =>
    movement(character, read, c, map, file, (name) => uniqueName(name, clips, stem(file))),
  );
  return [...grown, ...found, ...moving];
}

const jointsAddition = (file: string, coming: readonly ComingJoint[]): Addition => ({
  file,
  what: "joints",
  name: coming.length === 1 ? coming[0]!.name : `${coming.length} joints`,
  joints: coming,
  wanted: true,
  note: `hung on ${[...new Set(coming.map((c) => c.parent))]
    .filter((p) => !coming.some((c) => c.name === p))
    .slice(0, 3)
    .join(", ")}`,
});

/** A part of a file. @param named gives a name that is not taken. */
function partAddition(
  character: Character,
  read: Character,
  p: number,
  { skin, names, lost }: ReturnType<typeof rebound>,
  file: string,
  named: (name: string) => string,
): Addition {
  const part = read.parts[p]!;
  const known = character.parts.find((x) => x.name === part.name);
  const same = known && vertexCountOf(known) === vertexCountOf(part);
  const used = [...new Set(part.groups.map((g) => g.material))];
  const name = same ? part.name : named(part.name);
  const notes = [
    same ? "is here already" : known ? `another ${part.name} is here` : "",
    skin ? "bound" : lost ? `not bound: ${lost} is not a joint here` : "not bound yet: see Weights",
  ].filter(Boolean);
  return {
    file,
    what: "part",
    name,
    wanted: !same,
    note: notes.join(", "),
    added: {
      joints: names,
      part: { ...part, name, skin, groups: part.groups.map((g) => ({ ...g, material: used.indexOf(g.material) })) },
      materials: used.map((m) => read.materials[m]!),
      moves: read.shapes.flatMap((s) =>
        character.shapes.some((x) => x.name === s.name)
          ? s.deltas.filter((d) => d.part === p).map(({ vertices, deltas }) => ({ shape: s.name, vertices, deltas }))
          : [],
      ),
    },
  };
}

/** A clip of a file, brought onto the character's skeleton where it was made on another; none where it is here. */
function movement(
  character: Character,
  read: Character,
  clip: Clip,
  map: ClipMaps[string],
  file: string,
  named: (name: string) => string,
): Addition[] {
  if (character.clips.some((x) => x.name === clip.name) || !read.skeleton) return [];
  const source = motionFromClip(read.skeleton, clip, map);
  const same = sameRestClip(character, read.skeleton, source, clip);
  const name = named(clip.name);
  if (!same) {
    const brought = bringClip(character, source, name);
    const weights = (clip.weights ?? []).filter((w) => character.shapes.some((s) => s.name === w.shape));
    return [clipAddition(file, weights.length ? { ...brought, clip: { ...brought.clip, weights } } : brought)];
  }
  const note = `${same.tracks.length} of its ${clip.tracks.length} tracks fit`;
  return [{ file, what: "clip", name, clip: { ...same, name }, fitting: null, report: null, wanted: true, note }];
}

/**
 * Where a tree of joints that hangs on nothing here is hung: the body's joint nearest to the middle of those that hold
 * skin, features of the face and fingers left aside.
 */
function rootFor({ skeleton, jointMap }: Character, coming: Character): string | null {
  if (!skeleton || !coming.skeleton) return null;
  const { boneOfJoint } = humanoidMap(skeleton, jointMap);
  const world = worldMatrices(skeleton, {});
  const theirs = worldMatrices(coming.skeleton, {});
  const holding = new Set(
    coming.parts.flatMap(({ skin }) => (skin ? Array.from(skin.joints).filter((_, i) => skin.weights[i]! > 0) : [])),
  );
  const places = [...holding].map((j) => translationOf(theirs, 16 * j));
  if (places.length === 0) return null;
  const middle = scale(places.reduce(add, [0, 0, 0] as Vec3), 1 / places.length);
  const candidates = skeleton.joints.map((_, j) => j);
  const trunk = candidates.filter(
    (j) => boneOfJoint[j] && !/Eye|jaw|Thumb|Index|Middle|Ring|Little/.test(boneOfJoint[j]),
  );
  const away = (j: number): number => length(sub(translationOf(world, 16 * j), middle));
  return skeleton.joints[(trunk.length ? trunk : candidates).reduce((a, b) => (away(b) < away(a) ? b : a))]!.name;
}

/** Joints that come, with those that hang directly on a joint of the character hung on another. */
export function hungOn(coming: readonly ComingJoint[], under: string): ComingJoint[] {
  const own = new Set(coming.map((c) => c.name));
  return coming.map((c) => (own.has(c.parent) ? c : { ...c, parent: under }));
}

/**
 * A binding as it is, with what its joints are called here; null, with the joint that is missing, when a weight would
 * be lost.
 */
function rebound(
  skin: SkinBinding | null,
  from: Character,
  here: ReadonlySet<string>,
  joints: ReadonlyMap<string, string>,
): { skin: SkinBinding | null; names: string[]; lost: string | null } {
  if (!skin || !from.skeleton || here.size === 0) return { skin: null, names: [], lost: null };
  const names = from.skeleton.joints.map((j) => joints.get(j.name) ?? j.name);
  for (let n = 0; n < skin.weights.length; n++)
    if (skin.weights[n]! > 0 && !here.has(names[skin.joints[n]!]!))
      return { skin: null, names: [], lost: from.skeleton.joints[skin.joints[n]!]!.name };
  return { skin: { ...skin, inverseBinds: null }, names, lost: null };
}
