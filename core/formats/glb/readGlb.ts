import { WebIO, type Document } from "@gltf-transform/core";
import { ALL_EXTENSIONS } from "@gltf-transform/extensions";
import { MeshoptDecoder } from "meshoptimizer/decoder";
import {
  DEFAULT_MATERIAL,
  type Character,
  type Material,
  type Mix,
  type Part,
  type Shape,
  type ShapeDelta,
  type VrmKept,
} from "../../model/character";
import { cleanText } from "../../model/cleanName";
import { uniqueName } from "../../model/uniqueName";
import { isUserError, shortName, UserError } from "../../model/userError";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { withoutTwists } from "../../evaluate/twistTracks";
import { within } from "../../model/budget";
import { rootExtrasSchema, type RootExtras } from "../extras";
import { proveRead } from "../proveRead";
import { placeMesh } from "./placeMesh";
import { readClips } from "./readClips";
import { readMaterials } from "./readMaterials";
import { readMesh } from "./readMesh";
import { readSkeleton, type Bones } from "./readSkeleton";
import { readVrm } from "../vrm/readVrm";
import { checkGltf, parseJson, splitGlb } from "./preflight";
import { keptPoseDrivers, keptTwistJoints } from "../poseDrivers";

export interface ReadOptions {
  /** Joints with clips alone are taken too, without any mesh; they make no character by themselves. */
  readonly bare?: boolean;
}

/**
 * Reads a GLB file into a character. Throws UserError with the place for anything broken; nothing is returned half
 * read. Meshes without a skin that hang under a joint are bound to it rigidly; other unskinned meshes are placed by
 * their nodes.
 */
export async function readGlb(given: Uint8Array, file: string, { bare = false }: ReadOptions = {}): Promise<Character> {
  // the library lays views over the bytes, which must begin at a multiple of four for that
  const bytes = given.byteOffset % 4 ? given.slice() : given;
  const { json, binary } = splitGlb(bytes, file);
  checkGltf(json, [binary.length], file);
  const character = fromDocument(await parse((io) => io.readBinary(bytes), file), file, bare);
  return proveRead({ ...character, ...readVrm(json, character) }, file);
}

/** Reads a .gltf file with its buffers and images already fetched, keyed by URI. */
export async function readGltf(
  bytes: Uint8Array,
  resources: Record<string, Uint8Array>,
  file: string,
): Promise<Character> {
  const json = parseJson(bytes, file);
  const lengths = (json.buffers ?? []).map((b, i) => {
    if (b.uri?.startsWith("data:")) return b.byteLength ?? 0;
    const data = resources[b.uri ?? ""];
    if (!data)
      throw new UserError(
        `The data file ${shortName(b.uri ?? "(none)")} is missing.`,
        `${file}, buffer ${i}`,
        "Put it beside the .gltf file, or send one .glb.",
      );
    if ((b.byteLength ?? 0) > data.length)
      throw new UserError(
        `The data file has ${data.length} bytes; ${b.byteLength} are expected.`,
        `${file}, buffer ${i}`,
        "Copy it again.",
      );
    return data.length;
  });
  checkGltf(json, lengths, file);
  const aligned = Object.fromEntries(
    Object.entries(resources).map(([uri, data]) => [uri, data.byteOffset % 4 ? data.slice() : data]),
  );
  return proveRead(
    fromDocument(await parse((io) => io.readJSON({ json: json as never, resources: aligned as never }), file), file),
    file,
  );
}

async function parse(read: (io: WebIO) => Promise<Document>, file: string): Promise<Document> {
  await MeshoptDecoder.ready;
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({ "meshopt.decoder": MeshoptDecoder });
  io.setLogger({ debug: () => {}, info: () => {}, warn: () => {}, error: () => {} } as never);
  try {
    return await read(io);
  } catch (error) {
    if (isUserError(error)) throw error;
    throw new UserError(
      /meshopt|Malformed/i.test(error instanceof Error ? error.message : "")
        ? "Its compressed data cannot be opened."
        : "The file does not hold together.",
      file,
      "Export it again; a glTF validator will say more.",
    );
  }
}

function fromDocument(document: Document, file: string, bare = false): Character {
  const notes: string[] = [];
  const bones = readSkeleton(document, file, notes);
  const { parts, shapes, materials } = readParts(document, bones, file, notes);
  const clips = readClips(document, bones, file, notes);
  if (parts.length === 0 && !(bare && clips.some((c) => c.tracks.length > 0)))
    throw new UserError(
      "No mesh with faces is in the file.",
      file,
      clips.length
        ? "It holds clips alone: add it to a character under Intake, Deliveries."
        : "Export the character's meshes together with its skeleton.",
    );
  if (parts.length > 0 && parts.every((p) => p.kind === "other")) {
    const largest = parts.reduce((a, b) => (b.positions.length > a.positions.length ? b : a));
    parts[parts.indexOf(largest)] = { ...largest, kind: "body" };
  }
  const own = (document.getRoot().getExtras() as { yxomorph?: unknown }).yxomorph;
  const { data, success } = rootExtrasSchema.safeParse(own);
  if (own !== undefined && !success) notes.push("The file's own notes on drivers could not be read and were left out.");
  const { twistJoints = [] } = keptTwistJoints(data, bones.skeleton);
  return {
    name: cleanText(file.replace(/\.[^.]*$/, "").replace(/^.*[\\/]/, "")),
    parts,
    materials,
    skeleton: bones.skeleton,
    shapes: [...shapes].map(([name, deltas]): Shape => {
      const offsets = data?.jointOffsets[name]?.filter((o) => bones.skeleton?.joints.some((j) => j.name === o.joint));
      const label = data?.shapeLabels[name] ?? name;
      return { name, label, deltas, ...(offsets?.length ? { jointOffsets: offsets } : {}) };
    }),
    ...keptOfShapes(data, new Set(shapes.keys())),
    ...(twistJoints.length ? { twistJoints } : {}),
    ...(data?.vrm ? { vrm: data.vrm as VrmKept } : {}),
    ...(data?.retargetPose ? { retargetPose: data.retargetPose } : {}),
    clips: clips.map((c) => ({ ...c, tracks: withoutTwists(c.tracks, { twistJoints }) })),
    jointMap: data?.jointMap ?? {},
    notes,
  };
}

/** The meshes of all nodes, bound and placed; the movements of each shape, and the materials they use. */
function readParts(
  document: Document,
  bones: Bones,
  file: string,
  notes: string[],
): { parts: Part[]; shapes: Map<string, ShapeDelta[]>; materials: Material[] } {
  const root = document.getRoot();
  const materials = readMaterials(document);
  const materialIndex = new Map(root.listMaterials().map((m, i) => [m, i]));
  const world = bones.skeleton ? worldMatrices(bones.skeleton, {}) : null;
  const parts: Part[] = [];
  const shapes = new Map<string, ShapeDelta[]>();
  const partNames = new Set<string>();
  let fallback = -1;
  const skinned = root.listNodes().filter((n) => n.getMesh()).length;
  within(
    "bindNumbers",
    16 * skinned * (bones.skeleton?.joints.length ?? 0),
    file,
    "Join the parts, or send them with fewer joints.",
  );
  for (const node of root.listNodes()) {
    const mesh = node.getMesh();
    if (!mesh) continue;
    const name = uniqueName(node.getName() || mesh.getName(), partNames, `part ${parts.length + 1}`);
    const read = readMesh(mesh, name, file, notes, (m) => {
      if (m) return materialIndex.get(m)!;
      if (fallback < 0) fallback = materials.push(DEFAULT_MATERIAL) - 1;
      return fallback;
    });
    if (!read) continue;
    if (read.deltas.size > 0 && !Array.isArray((mesh.getExtras() as { targetNames?: unknown }).targetNames))
      notes.push(
        `The shapes of ${shortName(name)} came without names and ` +
          "were numbered. Rename them once you have seen what they do.",
      );
    const placed = placeMesh(read, node, bones, world, file, name);
    placed.deltas.forEach((delta, shape) => {
      if (delta.vertices.length === 0 && shapes.has(shape)) return;
      const list = shapes.get(shape) ?? [];
      if (delta.vertices.length > 0) list.push({ ...delta, part: parts.length });
      shapes.set(shape, list);
    });
    parts.push(placed.part);
  }
  return { parts, shapes, materials };
}

/** What the file's own notes say of shapes that are there: drivers, mixes, what was baked. */
function keptOfShapes(
  data: RootExtras | undefined,
  names: ReadonlySet<string>,
): Pick<Character, "drivers" | "shapeDrivers" | "poseDrivers" | "sampleSets" | "mixes" | "baked"> {
  return {
    drivers: data?.drivers.filter((d) => names.has(d.shape)) ?? [],
    shapeDrivers:
      data?.shapeDrivers.flatMap(({ span, ...d }) =>
        names.has(d.shape) && d.of.every((n) => names.has(n)) ? [{ ...d, ...(span ? { span } : {}) }] : [],
      ) ?? [],
    ...keptPoseDrivers(data, names),
    ...(data?.mixes.length
      ? {
          mixes: data.mixes.map(({ blocks, ...m }): Mix => ({
            ...m,
            shares: m.shares.filter((x) => names.has(x.shape)),
            ...(blocks ? { blocks } : {}),
          })),
        }
      : {}),
    ...(data?.baked.length ? { baked: data.baked.filter((b) => names.has(b.shape)) } : {}),
  };
}
