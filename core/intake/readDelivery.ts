import { addClip, addPart, encodeAdded } from "./addThings";
import { bringAdditions } from "./bringAdditions";
import { mergeJoints } from "../skeleton/mergeJoints";
import { vertexCountOf, type Character } from "../model/character";
import { isUserError, UserError, shortName } from "../model/userError";
import { chooseBase, goesWithObj, isBaseOrTarget, isScene, possibleRoles, type FileRole } from "../formats/fileRoles";
import { extension, formatOf } from "../formats/formats";
import { proveRead } from "../formats/proveRead";
import { readLibraries, type Companion } from "../formats/obj/materialLibrary";
import { addObjTargets, characterFromObj, readObj } from "../formats/obj/readObj";

export interface DeliveryFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** What the sender says it is; absent where that is left to the reader. */
  readonly role?: FileRole;
}
export interface ReadResult {
  readonly character: Character;
  readonly mainFile: string;
}

const list = (of: readonly DeliveryFile[]): string =>
  of
    .map((f) => shortName(f.name, 30))
    .slice(0, 4)
    .join(", ");

/**
 * Reads what was dropped together, in any order: one character as GLB, or as an OBJ base with OBJ targets, and what
 * goes with it: material libraries and images of OBJ files, hair or garments alone, clips.
 * Roles that the files bring are kept to. Without them the character is the GLB with the most vertices that has a
 * body, or the OBJ that `chooseBase` finds, and other OBJ files are its targets.
 */
export async function readDelivery(all: readonly DeliveryFile[]): Promise<ReadResult> {
  if (all.length === 0) throw new UserError("No file came.", "", "Drop a GLB, or an OBJ base with its OBJ targets.");
  const files = all.filter((f) => f.role !== "left out");
  const strange = files.find((f) => possibleRoles(f.name).length === 1);
  if (strange)
    throw new UserError(
      `Files of the kind .${extension(strange.name) || "(none)"} are not read.`,
      shortName(strange.name),
      "Ask for glTF 2.0 as one .glb, or for OBJ.",
    );
  const named = files.filter((f) => f.role === "character");
  if (named.length > 1)
    throw new UserError(
      `${named.length} files are named as the character.`,
      list(named),
      "Name one, and take the others in one at a time.",
    );
  const free = files.filter((f) => f.role === undefined);
  const scenes = free.filter(isScene);
  const objs = named.length ? [] : free.filter(isBaseOrTarget);
  const chosen = scenes.length ? null : objs.length ? chooseBase(objs) : undefined;
  const character = named[0] ?? chosen;
  if (character === undefined)
    throw new UserError(
      files.length ? "No file is the character: clips, targets and parts came alone." : "Every file is left out.",
      list(files),
      "Drop them together with its GLB or OBJ base, or add them to a character under Intake, Deliveries.",
    );
  if (character === null || !isBaseOrTarget(character)) {
    const target = files.find((f) => f.role === "target");
    if (target)
      throw new UserError(
        "Targets need an OBJ base; the character comes as GLB.",
        shortName(target.name),
        "Leave them out here and bring them under Shapes, Make.",
      );
    return withOthers(
      character ? { character: await sceneOf(character), mainFile: character.name } : await mainOf(scenes),
      files,
    );
  }
  const targets = files.filter((f) => f !== character && (f.role === "target" || objs.includes(f)));
  const read = readBaseAndTargets(
    character,
    targets,
    files.filter((f) => goesWithObj(f.name)),
  );
  return withOthers(
    read,
    files.filter((f) => !targets.includes(f)),
  );
}

function readBaseAndTargets(
  base: DeliveryFile,
  others: readonly DeliveryFile[],
  beside: readonly Companion[],
): ReadResult {
  const baseObj = readObj(base.bytes, base.name);
  const targets = [...others]
    .sort((a, b) => a.name.localeCompare(b.name))
    .map((o) => ({ name: o.name, obj: readObj(o.bytes, o.name) }));
  try {
    return {
      character: proveRead(
        addObjTargets(characterFromObj(baseObj, base.name, readLibraries(baseObj.libraries, beside)), baseObj, targets),
        base.name,
      ),
      mainFile: base.name,
    };
  } catch (error) {
    if (isUserError(error))
      throw new UserError(
        error.what,
        error.where,
        `${error.todo} ${shortName(base.name)} was taken as the base.`.trim(),
      );
    throw error;
  }
}

const sceneOf = (file: DeliveryFile, bare = false): Promise<Character> =>
  formatOf(file.name)!.character!(file, { bare, beside: [] });

/** The GLB that is the character: the most vertices among those with a body, else among all. */
async function mainOf(glbs: readonly DeliveryFile[]): Promise<ReadResult> {
  // one alone must be a character; among several, some may hold clips alone
  const all = await Promise.all(
    glbs.map(async (f) => ({ mainFile: f.name, character: await sceneOf(f, glbs.length > 1) })),
  );
  const read = all.filter((r) => r.character.parts.length > 0);
  if (read.length === 0)
    throw new UserError(
      "No file holds a mesh: clips came alone.",
      list(glbs),
      "Drop them together with the character, or add them to one under Intake, Deliveries.",
    );
  const size = ({ character }: ReadResult): number =>
    character.parts.reduce((n, p) => n + vertexCountOf(p), 0) +
    (character.parts.some((p) => p.kind === "body") ? 1e9 : 0);
  return read.sort((a, b) => size(b) - size(a) || a.mainFile.localeCompare(b.mainFile))[0]!;
}

/**
 * Adds what the other files bring; told as notes. @throws UserError when one is another character or cannot be used.
 */
async function withOthers(main: ReadResult, files: readonly DeliveryFile[]): Promise<ReadResult> {
  const others = files.filter((f) => f.name !== main.mainFile);
  if (!others.length) return main;
  const alone = files.some(isBaseOrTarget) ? [] : others.filter((f) => goesWithObj(f.name));
  const { additions, refused } = await bringAdditions(main.character, others);
  if (refused[0]) throw new UserError(refused[0].why, shortName(refused[0].file), "");
  const second = additions.find(
    (a) =>
      a.what === "part" &&
      a.added.part.kind === "body" &&
      a.wanted &&
      others.find((f) => f.name === a.file)?.role === undefined,
  );
  if (second)
    throw new UserError(
      `${files.length} files of several characters came together.`,
      list(files),
      "Drop one character at a time, with the hair, garments and clips that go with it.",
    );
  let { character } = main;
  if (alone.length)
    character = {
      ...character,
      notes: [
        ...character.notes,
        `${list(alone)} came without an OBJ: textures are matched under Intake, Parts, Materials and textures.`,
      ],
    };
  for (const a of additions) {
    if (!a.wanted) continue;
    character =
      a.what === "part"
        ? addPart(character, encodeAdded(a.added))
        : a.what === "clip"
          ? addClip(character, encodeAdded(a.clip))
          : mergeJoints(character, a.joints);
    character = proveRead(
      { ...character, notes: [...character.notes, `${shortName(a.file, 40)} brought ${a.name} (${a.note}).`] },
      a.file,
    );
  }
  return { ...main, character };
}
