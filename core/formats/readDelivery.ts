import type { Character } from "../model/character";
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
 * Reads what was dropped together: one GLB, or one OBJ base with OBJ targets.
 * The base is the file whose name is the start of most others, or holds a word such as base or neutral; else the first by name.
 */
export async function readDelivery(files: readonly DeliveryFile[]): Promise<ReadResult> {
  if (files.length === 0) throw new UserError("No file came.", "", "Drop a GLB, or an OBJ base with its OBJ targets.");
  const strange = files.find((f) => !["glb", "vrm", "obj"].includes(extension(f.name)));
  if (strange) throw new UserError(`Files of the kind .${extension(strange.name) || "(none)"} are not read.`, shortName(strange.name), "Ask for glTF 2.0 as one .glb, or for OBJ.");
  const glbs = files.filter((f) => extension(f.name) !== "obj");
  const objs = files.filter((f) => extension(f.name) === "obj");
  if (glbs.length > 1 || (glbs.length === 1 && objs.length > 0)) throw new UserError(`${files.length} files of several characters came together.`, files.map((f) => shortName(f.name, 30)).slice(0, 4).join(", "), "Drop one GLB at a time, or one OBJ base with its targets.");
  if (glbs[0]) return { character: await readGlb(glbs[0].bytes, glbs[0].name), mainFile: glbs[0].name };
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

function chooseBase(objs: readonly DeliveryFile[]): DeliveryFile {
  const stem = (n: string): string => n.replace(/\.[^.]*$/, "").toLowerCase();
  const score = (f: DeliveryFile): number => (/(^|[^a-z])(base|neutral|rest|bind)([^a-z]|$)/i.test(stem(f.name)) ? 1000 : 0) + objs.filter((o) => o !== f && stem(o.name).startsWith(stem(f.name))).length;
  return [...objs].sort((a, b) => score(b) - score(a) || a.name.localeCompare(b.name))[0]!;
}
