import { UserError } from "../model/userError";
import type { Character } from "../model/character";
import type { Bvh } from "./bvh/readBvh";
import type { FileRole } from "./fileRoles";
import type { Companion } from "./obj/materialLibrary";
import type { PlainMesh } from "./readPly";

/** A file of several that came together, as readers take it. */
export interface GivenFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** One format: what its files can be, how they are read and written, and what docs/formats.md says of them. */
export interface Format {
  readonly name: string;
  /** Without the point, in lower case. */
  readonly extensions: readonly string[];
  /** What a file of it can be among several that came together; none where it is not taken in. */
  readonly roles: readonly Exclude<FileRole, "left out">[];
  /**
   * How a character comes in it: as one file with all of it, as a base with a target for each shape, or beside one of
   * those.
   */
  readonly holds: "scene" | "base or target" | "beside an OBJ" | "movement" | "nothing";
  /** What is read and written, in a word or two for the table. */
  readonly reads: string;
  readonly writes: string;
  readonly notes: string;
  /** Reads a character, or with `bare` parts alone. Readers are fetched when a file comes: some are large. */
  readonly character?: (
    file: GivenFile,
    options: { readonly bare: boolean; readonly beside: readonly Companion[] },
  ) => Promise<Character>;
  /** Reads one mesh, vertex by vertex as it stands in the file. */
  readonly mesh?: (file: GivenFile) => Promise<PlainMesh>;
  readonly clip?: (file: GivenFile) => Promise<Bvh>;
  /** Writes a whole character. */
  readonly write?: (character: Character) => Promise<Uint8Array | string>;
  /** Writes the mesh as it stands at the given positions. */
  readonly writeMesh?: (
    character: Character,
    positions: readonly Float32Array[],
    note?: string,
  ) => Promise<Uint8Array | string>;
}

const glbCharacter: NonNullable<Format["character"]> = async ({ name, bytes }, { bare }) =>
  (await import("./glb/readGlb")).readGlb(bytes, name, { bare });

export const FORMATS: readonly Format[] = [
  {
    name: "glTF 2.0, GLB",
    extensions: ["glb"],
    roles: ["character", "goes with it"],
    holds: "scene",
    reads: "yes",
    writes: "yes",
    notes:
      "skins, morph targets (dense and sparse, names in `extras.targetNames`), clips; all textures of the " +
      ("metallic-roughness material are carried along; normals " +
        "are made anew from the faces with the hard edges of the ") +
      "file kept, and tangents where a normal map needs them, both in the shapes too; `KHR_materials_*`, " +
      ("`KHR_mesh_quantization`, `EXT_meshopt_compression`. " +
        "Written files pass the Khronos validator without errors and ") +
      "warnings, same bytes each time. The command line reads `.gltf` with its files too",
    character: glbCharacter,
    write: async (character) => (await import("./glb/writeGlb")).writeGlb(character),
  },
  {
    name: "OBJ",
    extensions: ["obj"],
    roles: ["character", "goes with it", "target"],
    holds: "base or target",
    reads: "yes",
    writes: "yes",
    notes:
      "vertex order and polygons survive; groups, smoothing " +
      "groups, hard edges of its normals, every texture coordinate " +
      ("of a seam and colours of vertices are kept; UTF-8, " +
        "UTF-16, Latin-1. An OBJ base with OBJ targets makes shapes; ") +
      "`convert` writes such a set into a folder and reads one from it",
    character: async ({ name, bytes }, { beside }) => {
      const [{ characterFromObj, readObj }, { readLibraries }] = await Promise.all([
        import("./obj/readObj"),
        import("./obj/materialLibrary"),
      ]);
      const obj = readObj(bytes, name);
      return characterFromObj(obj, name, readLibraries(obj.libraries, beside));
    },
    mesh: async ({ name, bytes }) => (await import("./obj/readObj")).readObj(bytes, name),
    writeMesh: async (character, positions, note) =>
      (await import("./obj/writeObj")).writeObj(character, positions, undefined, note),
  },
  {
    name: "MTL, PNG, JPEG",
    extensions: ["mtl", "png", "jpg", "jpeg"],
    roles: ["goes with it"],
    holds: "beside an OBJ",
    reads: "yes",
    writes: "yes",
    notes:
      "material libraries and their images are read from beside " +
      "an OBJ and written so (colours as sRGB, `Kd` `d` `Ns` " +
      "`Pr` `Pm` `Ke` `map_Kd` `map_d` `norm` `map_Ke`); images that no library names are " +
      "matched to materials by the words of their names, beside a GLB too",
  },
  {
    name: "VRM 1.0",
    extensions: ["vrm"],
    roles: ["character", "goes with it"],
    holds: "scene",
    reads: "yes",
    writes: "yes",
    notes:
      "a GLB with `VRMC_vrm`: humanoid bones from the joint map, expressions from mixes and from shapes named as " +
      "presets, overrides, look-at, meta. Read: bones become the joint map, expressions mixes; terms, springs, node " +
      ("constraints, first person, ranges of the look-at and what " +
        "mixes do not hold of expressions are carried along by ") +
      ("the names of joints and parts, also under new names, and " +
        "written back. VRM asks for a T pose: arms that are not ") +
      "level are bound so on writing",
    character: glbCharacter,
    write: async (character) => (await import("./vrm/writeVrm")).writeVrm(character),
  },
  {
    name: "BVH",
    extensions: ["bvh"],
    roles: ["clip"],
    holds: "movement",
    reads: "clips",
    writes: "yes",
    notes:
      "read onto joints of the same name or the same humanoid bone, in metres by the ratio of leg lengths. Written: " +
      "hierarchy and turns in world axes, channels Z X Y, any unit, names and rest pose of another skeleton on request",
    clip: async ({ name, bytes }) => {
      const [{ readBvh }, { decodeText }] = await Promise.all([import("./bvh/readBvh"), import("./decodeText")]);
      return readBvh(decodeText(bytes), name);
    },
    write: async ({ skeleton, clips, name }) => {
      const [clip] = clips;
      if (!skeleton || !clip)
        throw new UserError("There is no clip to write.", name, "Bring one with retarget, or under Trials, Clips.");
      return (await import("./bvh/writeBvh")).writeBvh(skeleton, clip);
    },
  },
  {
    name: "PLY",
    extensions: ["ply"],
    roles: [],
    holds: "nothing",
    reads: "targets, scans",
    writes: "the mesh",
    notes: "ASCII and binary are read as target meshes; the posed mesh is written",
    mesh: async ({ name, bytes }) => (await import("./readPly")).readPly(bytes, name),
    writeMesh: async (character, positions) => (await import("./writePly")).writePly(character, positions),
  },
  {
    name: "STL",
    extensions: ["stl"],
    roles: [],
    holds: "nothing",
    reads: "–",
    writes: "the mesh",
    notes: "the posed mesh, for looking elsewhere",
    writeMesh: async (character, positions) => (await import("./writeStl")).writeStl(character, positions),
  },
  {
    name: "JSON",
    extensions: ["json"],
    roles: [],
    holds: "nothing",
    reads: "–",
    writes: "yes",
    notes: "positions of a pose; drivers, joint map and shape labels, as the sidecar of a hand-off",
    write: async (character) =>
      `${JSON.stringify((await import("./glb/rootExtras")).rootExtras(character), null, 2)}\n`,
    writeMesh: (character, positions) => {
      const rows = (P: Float32Array): number[][] =>
        Array.from({ length: P.length / 3 }, (_, v) => Array.from(P.subarray(3 * v, 3 * v + 3)));
      const parts = character.parts.map((p, i) => ({ name: p.name, vertices: rows(positions[i]!) }));
      return Promise.resolve(`${JSON.stringify({ parts })}\n`);
    },
  },
  {
    name: "Praat TextGrid",
    extensions: ["textgrid"],
    roles: [],
    holds: "nothing",
    reads: "–",
    writes: "yes",
    notes: "interval tiers, long text form, UTF-8",
  },
  {
    name: "CSV",
    extensions: ["csv"],
    roles: [],
    holds: "nothing",
    reads: "takes",
    writes: "yes",
    notes: "takes, weights, tables",
  },
];

/** What follows the last point of a file name, in lower case. */
export const extension = (name: string): string => (/\.([a-z0-9]+)$/i.exec(name)?.[1] ?? "").toLowerCase();

/** The format that a file's name speaks of. */
export const formatOf = (name: string): Format | undefined =>
  FORMATS.find((f) => f.extensions.includes(extension(name)));

/** Extensions of the formats that can do something, with their points, as a list in words. */
export function extensionsThat(can: (format: Format) => boolean): string {
  const all = FORMATS.filter(can).map((f) => `.${f.extensions[0]}`);
  return all.length > 1 ? `${all.slice(0, -1).join(", ")} or ${all.at(-1)}` : all.join("");
}

/** The table of docs/formats.md. */
export const formatsTable = (): string =>
  [
    "| format | files | read | written | notes |",
    "|---|---|---|---|---|",
    ...FORMATS.map(
      (f) =>
        `| ${f.name} | ${f.extensions.map((e) => `\`.${e}\``).join(" ")} | ${f.reads} | ${f.writes} | ${f.notes} |`,
    ),
  ].join("\n");
