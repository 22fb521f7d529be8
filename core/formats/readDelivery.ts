import { addClip, addPart, encodeAdded } from "../additions/addThings";
import { bringAdditions } from "../additions/bringAdditions";
import { mergeJoints } from "../additions/mergeJoints";
import { vertexCountOf, type Character } from "../model/character";
import { isUserError, UserError, shortName } from "../model/userError";
import { readGlb } from "./glb/readGlb";
import { addObjTargets, characterFromObj, readObj } from "./obj/readObj";

export interface DeliveryFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}
export interface ReadResult {
  readonly character: Character;
  readonly mainFile: string;
}

const extension = (name: string): string => (/\.([a-z0-9]+)$/i.exec(name)?.[1] ?? "").toLowerCase();

/**
 * Reads what was dropped together, in any order: one character as GLB, or as an OBJ base with OBJ targets, and what goes with a GLB: hair or garments alone, clips.
 * The character is the GLB with the most vertices that has a body; of OBJ files the base is the one whose name is the start of most others, or holds a word such as base or neutral; else the first by name.
 */
export async function readDelivery(files: readonly DeliveryFile[]): Promise<ReadResult> {
  if (files.length === 0) throw new UserError("No file came.", "", "Drop a GLB, or an OBJ base with its OBJ targets.");
  const strange = files.find((f) => !["glb", "vrm", "obj", "bvh"].includes(extension(f.name)));
  if (strange) throw new UserError(`Files of the kind .${extension(strange.name) || "(none)"} are not read.`, shortName(strange.name), "Ask for glTF 2.0 as one .glb, or for OBJ.");
  const glbs = files.filter((f) => ["glb", "vrm"].includes(extension(f.name)));
  const objs = files.filter((f) => extension(f.name) === "obj");
  if (glbs.length) return withOthers(await mainOf(glbs), files);
  if (objs.length < files.length) throw new UserError("Clips came without a character.", files.map((f) => shortName(f.name, 30)).slice(0, 4).join(", "), "Drop them together with its GLB, or add them to a character under Intake, Deliveries.");
  const base = chooseBase(objs);
  const baseObj = readObj(base.bytes, base.name);
  const targets = objs.filter((o) => o !== base).sort((a, b) => a.name.localeCompare(b.name)).map((o) => ({ name: o.name, obj: readObj(o.bytes, o.name) }));
  try {
    return { character: addObjTargets(characterFromObj(baseObj, base.name), baseObj, targets), mainFile: base.name };
  } catch (error) {
    if (isUserError(error)) throw new UserError(error.what, error.where, `${error.todo} ${shortName(base.name)} was taken as the base.`.trim());
    throw error;
  }
}

/** The GLB that is the character: the most vertices among those with a body, else among all. */
async function mainOf(glbs: readonly DeliveryFile[]): Promise<ReadResult> {
  const read = await Promise.all(glbs.map(async (f) => ({ mainFile: f.name, character: await readGlb(f.bytes, f.name) })));
  const size = ({ character }: ReadResult): number => character.parts.reduce((n, p) => n + vertexCountOf(p), 0) + (character.parts.some((p) => p.kind === "body") ? 1e9 : 0);
  return read.sort((a, b) => size(b) - size(a) || a.mainFile.localeCompare(b.mainFile))[0]!;
}

/** Adds what the other files bring; told as notes. @throws UserError when one is another character or cannot be used. */
async function withOthers(main: ReadResult, files: readonly DeliveryFile[]): Promise<ReadResult> {
  const others = files.filter((f) => f.name !== main.mainFile);
  if (!others.length) return main;
  const { additions, refused } = await bringAdditions(main.character, others);
  if (refused[0]) throw new UserError(refused[0].why, "", "");
  const second = additions.find((a) => a.what === "part" && a.added.part.kind === "body" && a.wanted);
  if (second) throw new UserError(`${files.length} files of several characters came together.`, files.map((f) => shortName(f.name, 30)).slice(0, 4).join(", "), "Drop one character at a time, with the hair, garments and clips that go with it.");
  let { character } = main;
  for (const a of additions) {
    if (!a.wanted) continue;
    character = a.what === "part" ? addPart(character, encodeAdded(a.added)) : a.what === "clip" ? addClip(character, encodeAdded(a.clip)) : mergeJoints(character, a.joints);
    character = { ...character, notes: [...character.notes, `${shortName(a.file, 40)} brought ${a.name} (${a.note}).`] };
  }
  return { ...main, character };
}

function chooseBase(objs: readonly DeliveryFile[]): DeliveryFile {
  const stem = (n: string): string => n.replace(/\.[^.]*$/, "").toLowerCase();
  const score = (f: DeliveryFile): number => (/(^|[^a-z])(base|neutral|rest|bind)([^a-z]|$)/i.test(stem(f.name)) ? 1000 : 0) + objs.filter((o) => o !== f && stem(o.name).startsWith(stem(f.name))).length;
  return [...objs].sort((a, b) => score(b) - score(a) || a.name.localeCompare(b.name))[0]!;
}
