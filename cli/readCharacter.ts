import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import path from "node:path";
import { readGltf } from "../core/formats/glb/readGlb";
import { parseJson } from "../core/formats/glb/preflight";
import { goesWithObj, isBaseOrTarget } from "../core/formats/fileRoles";
import { extension, formatOf } from "../core/formats/formats";
import { readLibraries, texturesOf, type Companion } from "../core/formats/obj/materialLibrary";
import { characterFromObj, readObj } from "../core/formats/obj/readObj";
import { readDelivery } from "../core/intake/readDelivery";
import type { Character } from "../core/model/character";
import { characterOfBvh } from "../core/clips/clipsAlone";
import { isUserError, UserError } from "../core/model/userError";
import { UNFINISHED } from "./writeOut";

export interface LoadedFile {
  readonly character: Character;
  readonly bytes: Uint8Array;
  readonly sha256: string;
  readonly format: "glb" | "gltf" | "obj" | "bvh";
}

export const MAX_FILE_BYTES = 1024 * 1024 * 1024;

/** Reads a file of any size up to the limit, or says in one line why not. */
export function readBytes(file: string): Uint8Array {
  let size: number;
  try {
    const stat = statSync(file);
    if (!stat.isFile()) throw new UserError("This is not a file.", file, "");
    size = stat.size;
  } catch (error) {
    if (error instanceof UserError) throw error;
    throw new UserError("There is no such file, or it may not be read.", file, "");
  }
  if (size > MAX_FILE_BYTES)
    throw new UserError(
      `The file has ${Math.round(size / 1048576)} MB; up to ${MAX_FILE_BYTES / 1048576} MB are read.`,
      file,
      "",
    );
  return readFileSync(file);
}

/** Reads a character from GLB, VRM, glTF or OBJ by its extension, or an OBJ base with its targets from a folder. */
export async function readCharacter(file: string): Promise<LoadedFile> {
  if (statSync(file, { throwIfNoEntry: false })?.isDirectory()) return readFolder(file);
  const bytes = readBytes(file);
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  const name = path.basename(file);
  const format = formatOf(name);
  if (extension(name) === "gltf")
    return { character: await readGltf(bytes, resourcesOf(file, bytes), name), bytes, sha256, format: "gltf" };
  if (!format?.character)
    throw new UserError(
      `Files of the kind ${path.extname(file) || "(none)"} are not read.`,
      name,
      "Ask for glTF 2.0 (.glb) or OBJ.",
    );
  if (format.holds !== "base or target")
    return {
      character: await format.character({ name, bytes }, { bare: false, beside: [] }),
      bytes,
      sha256,
      format: "glb",
    };
  return { character: characterBesideLibraries(file, bytes, name), bytes, sha256, format: "obj" };
}

/**
 * As `readCharacter`, and files that hold clips alone: a BVH, or a GLB of joints and clips. Such a character has no
 * parts.
 */
export async function readCharacterOrClips(file: string): Promise<LoadedFile> {
  const name = path.basename(file);
  const format = formatOf(name);
  if (!format?.clip && !(format?.character && format.holds !== "base or target")) return readCharacter(file);
  if (!format.clip) {
    try {
      return await readCharacter(file);
    } catch (error) {
      const alone = isUserError(error) && (await clipsAlone(file, error));
      if (alone) return alone;
      throw error;
    }
  }
  const bytes = readBytes(file);
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  const bvh = await format.clip({ name, bytes });
  return { character: characterOfBvh(bvh, name.replace(/\.[^.]*$/, "")), bytes, sha256, format: "bvh" };
}

/** A GLB of joints and clips without a mesh; null for any other. */
async function clipsAlone(file: string, refused: UserError): Promise<LoadedFile | null> {
  const name = path.basename(file);
  const format = formatOf(name);
  if (!format?.character || !/clips alone/.test(refused.message)) return null;
  const bytes = readBytes(file);
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  const character = await format.character({ name, bytes }, { bare: true, beside: [] });
  return { character, bytes, sha256, format: "glb" };
}

/** An OBJ with the material libraries it names and their images, where they stand in its folder. */
function characterBesideLibraries(file: string, bytes: Uint8Array, name: string): Character {
  const obj = readObj(bytes, name);
  const dir = path.dirname(path.resolve(file));
  const here = (wanted: string): Companion[] => {
    const name = wanted.replaceAll("\\", "/");
    // paths of the machine it was made on lead nowhere: a file of that name beside the OBJ is meant
    const full = [name, path.posix.basename(name)]
      .map((n) => path.resolve(dir, n))
      .find((f) => f.startsWith(dir + path.sep) && statSync(f, { throwIfNoEntry: false })?.isFile());
    return full ? [{ name: wanted, bytes: readBytes(full) }] : [];
  };
  const libraries = obj.libraries.flatMap(here);
  return characterFromObj(
    obj,
    name,
    readLibraries(obj.libraries, [
      ...libraries,
      ...libraries.flatMap((l) => texturesOf(l.bytes, l.name)).flatMap(here),
    ]),
  );
}

/** An OBJ set: the base and its targets, with the libraries and images that stand beside them. */
async function readFolder(folder: string): Promise<LoadedFile> {
  const names = readdirSync(folder)
    .filter((n) => isBaseOrTarget({ name: n }) || goesWithObj(n))
    .sort();
  if (existsSync(path.join(folder, UNFINISHED)))
    throw new UserError(
      "The files in this folder were not written to the end.",
      path.basename(folder),
      `Write them again; or remove ${UNFINISHED} from it where they are whole.`,
    );
  if (!names.some((name) => isBaseOrTarget({ name })))
    throw new UserError(
      "There is no OBJ file in this folder.",
      path.basename(folder),
      "Put the base and its targets there.",
    );
  const files = names.map((name) => ({ name, bytes: readBytes(path.join(folder, name)) }));
  const hash = createHash("sha256");
  for (const f of files) hash.update(f.name).update(f.bytes);
  const { character } = await readDelivery(files);
  return {
    character: { ...character, name: path.basename(path.resolve(folder)) },
    bytes: files[0]!.bytes,
    sha256: hash.digest("hex"),
    format: "obj",
  };
}

/** The file that a URI of a glTF names. */
function uriPath(uri: string, file: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    throw new UserError(
      `Its data file ${uri.slice(0, 80)} is no address of a file.`,
      path.basename(file),
      "Export it again, or ask for one .glb.",
    );
  }
}

function resourcesOf(file: string, bytes: Uint8Array): Record<string, Uint8Array> {
  const json = parseJson(bytes, path.basename(file)) as { buffers?: { uri?: string }[]; images?: { uri?: string }[] };
  const dir = path.dirname(path.resolve(file));
  const out: Record<string, Uint8Array> = {};
  for (const { uri } of [...(json.buffers ?? []), ...(json.images ?? [])]) {
    if (!uri || uri.startsWith("data:")) continue;
    const full = path.resolve(dir, uriPath(uri, file));
    if (!full.startsWith(dir + path.sep))
      throw new UserError(
        `Its data file ${uri.slice(0, 80)} lies outside its folder.`,
        path.basename(file),
        "Put all files into one folder.",
      );
    try {
      out[uri] = readFileSync(full);
    } catch {
      // reported by the reader with its place
    }
  }
  return out;
}
