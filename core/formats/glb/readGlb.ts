import {
  WebIO,
  type Accessor,
  type Document,
  type Mesh,
  type Node,
  type Skin,
  type Texture,
} from "@gltf-transform/core";
import { ALL_EXTENSIONS } from "@gltf-transform/extensions";
import { MeshoptDecoder } from "meshoptimizer/decoder";
import {
  DEFAULT_MATERIAL,
  NO_JOINT,
  type Character,
  type Clip,
  type ClipTrack,
  type WeightTrack,
  type Joint,
  type Material,
  type MaterialMap,
  type Mix,
  type Part,
  type Shape,
  type ShapeDelta,
  type SkinBinding,
  type Skeleton,
  type TextureImage,
  type VrmKept,
} from "../../model/character";
import { cleanName, cleanText } from "../../model/cleanName";
import { uniqueName } from "../../model/uniqueName";
import { isUserError, shortName, UserError } from "../../model/userError";
import { invertAffine, transformDirection, transformPoint } from "../../math/mat4";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { withoutTwists } from "../../evaluate/twistTracks";
import { within } from "../../model/budget";
import { rootExtrasSchema, type RootExtras } from "../extras";
import { proveRead } from "../proveRead";
import { floats } from "./accessorFloats";
import { namesOfTargets, readMesh, type MeshData } from "./readMesh";
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

interface Bones {
  readonly skeleton: Skeleton | null;
  readonly jointOfNode: ReadonlyMap<Node, number>;
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
    const placed = place(read, node, bones, world, file, name);
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

function readMaterials(document: Document): Material[] {
  return document
    .getRoot()
    .listMaterials()
    .map((m) => {
      const read = (texture: Texture | null): TextureImage | null => {
        const bytes = texture?.getImage();
        return texture && bytes ? { name: texture.getName(), mimeType: texture.getMimeType(), bytes } : null;
      };
      const maps = (
        [
          ["normal", m.getNormalTexture(), m.getNormalTextureInfo(), m.getNormalScale()],
          ["metallic roughness", m.getMetallicRoughnessTexture(), m.getMetallicRoughnessTextureInfo(), 1],
          ["occlusion", m.getOcclusionTexture(), m.getOcclusionTextureInfo(), m.getOcclusionStrength()],
          ["emissive", m.getEmissiveTexture(), m.getEmissiveTextureInfo(), 1],
        ] as const
      ).flatMap(([slot, texture, info, strength]): MaterialMap[] => {
        // the first texture coordinates are the ones that are kept
        const image = info?.getTexCoord() ? null : read(texture);
        return image ? [{ ...image, slot, strength }] : [];
      });
      const emissive = m.getEmissiveFactor();
      return {
        name: cleanName(m.getName()) || "material",
        baseColor: m.getBaseColorFactor(),
        roughness: m.getRoughnessFactor(),
        metallic: m.getMetallicFactor(),
        opacity: m.getAlphaMode() === "BLEND" ? "blend" : m.getAlphaMode() === "MASK" ? "mask" : "opaque",
        alphaCutoff: m.getAlphaCutoff(),
        doubleSided: m.getDoubleSided(),
        texture: read(m.getBaseColorTexture()),
        ...(maps.length ? { maps } : {}),
        ...(emissive.some((x) => x > 0) ? { emissive } : {}),
      };
    });
}

function readSkeleton(document: Document, file: string, notes: string[]): Bones {
  const root = document.getRoot();
  const skins = root.listSkins();
  // a file of clips alone has no skin: what they move are its joints
  const moved = (): Node[] =>
    root.listMeshes().length
      ? []
      : root.listAnimations().flatMap((a) => a.listChannels().flatMap((c) => c.getTargetNode() ?? []));
  const isJoint = new Set(skins.length ? skins.flatMap((s) => s.listJoints()) : moved());
  const keep = new Set<Node>();
  for (const joint of isJoint) for (let n: Node | null = joint; n; n = n.getParentNode()) keep.add(n);
  const under = (n: Node): void => {
    if (!n.getMesh()) keep.add(n);
    n.listChildren().forEach(under);
  };
  isJoint.forEach(under);
  // file order, but a parent always before its children
  const ordered = new Set<Node>();
  const place = (n: Node): void => {
    const parent = n.getParentNode();
    if (parent && keep.has(parent) && !ordered.has(parent)) place(parent);
    ordered.add(n);
  };
  for (const n of root.listNodes()) if (keep.has(n)) place(n);
  const nodes = [...ordered];
  const jointOfNode = new Map(nodes.map((n, i) => [n, i]));
  if (nodes.length === 0) return { skeleton: null, jointOfNode };
  within("joints", nodes.length, file, "Send the character without its scene.");
  const taken = new Set<string>();
  const joints = nodes.map((n, i): Joint => {
    const name = uniqueName(n.getName(), taken, `joint ${i}`);
    if (n.getName() && name !== n.getName())
      notes.push(`A second joint named ${shortName(n.getName())} is called ${shortName(name)} here.`);
    const parent = n.getParentNode();
    return {
      name,
      parent: parent && jointOfNode.has(parent) ? jointOfNode.get(parent)! : NO_JOINT,
      translation: n.getTranslation(),
      rotation: n.getRotation(),
      scale: n.getScale(),
    };
  });
  for (const j of joints)
    if (![...j.translation, ...j.rotation, ...j.scale].every(Number.isFinite))
      throw new UserError(
        "Its rest transform is not a number.",
        `${file}, joint ${shortName(j.name)}`,
        "Reset the joint and export again.",
      );
  const inverseBinds = new Float32Array(16 * joints.length);
  for (let j = 0; j < joints.length; j++) inverseBinds.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], 16 * j);
  const inSkin = new Uint8Array(joints.length);
  for (const skin of skins)
    bindMatrices(skin, file).forEach((m, node) => {
      const j = jointOfNode.get(node)!;
      if (!inSkin[j]) inverseBinds.set(m, 16 * j);
      inSkin[j] = 1;
    });
  // a node that no skin lists is bound where it stands, should it ever be given weight
  const world = worldMatrices({ joints, inverseBinds, inSkin }, {});
  const inverse = new Float64Array(16);
  for (let j = 0; j < joints.length; j++)
    if (!inSkin[j] && invertAffine(inverse, 0, world, 16 * j)) inverseBinds.set(inverse, 16 * j);
  return { skeleton: { joints, inverseBinds, inSkin }, jointOfNode };
}

function bindMatrices(skin: Skin, file: string): Map<Node, Float32Array> {
  const joints = skin.listJoints();
  const accessor = skin.getInverseBindMatrices();
  const values = accessor ? floats(accessor, "inverse bind matrices", file) : null;
  if (values && values.length < 16 * joints.length)
    throw new UserError(
      `There are ${values.length / 16} inverse bind matrices for ${joints.length} joints.`,
      `${file}, skin ${skin.getName() || 0}`,
      "Bind the mesh again and export.",
    );
  return new Map(
    joints.map((n, i) => [
      n,
      values
        ? values.subarray(16 * i, 16 * i + 16)
        : Float32Array.from([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]),
    ]),
  );
}

/** Binds a mesh by its skin, or rigidly to the joint it hangs under, or puts it where its node stands. */
function place(
  data: MeshData,
  node: Node,
  bones: Bones,
  world: Float64Array | null,
  file: string,
  name: string,
): { part: Part; deltas: MeshData["deltas"] } {
  const skin = node.getSkin();
  const { skeleton, jointOfNode } = bones;
  if (skin && skeleton && data.influences) {
    const list = skin.listJoints().map((n) => jointOfNode.get(n)!);
    const { joints, weights, count } = data.influences;
    for (let n = 0; n < joints.length; n++) {
      if (weights[n] === 0) {
        joints[n] = list[0] ?? 0;
        continue;
      }
      const j = list[joints[n]!];
      if (j === undefined)
        throw new UserError(
          `Vertex ${Math.floor(n / count)} is bound to joint ${joints[n]} of ${list.length}.`,
          `${file}, part ${shortName(name)}`,
          "Bind the part again and export.",
        );
      joints[n] = j;
    }
    return {
      part: {
        ...data.part,
        skin: { influenceCount: count, joints, weights, inverseBinds: ownBinds(skin, bones, file) },
      },
      deltas: data.deltas,
    };
  }
  const m = Float64Array.from(node.getWorldMatrix());
  const positions = new Float32Array(data.part.positions.length);
  const get = (a: Float32Array, i: number): [number, number, number] => [a[i]!, a[i + 1]!, a[i + 2]!];
  for (let i = 0; i < positions.length; i += 3) positions.set(transformPoint(m, 0, get(data.part.positions, i)), i);
  const deltas = new Map(
    [...data.deltas].map(([n, d]) => {
      const moved = new Float32Array(d.deltas.length);
      for (let i = 0; i < moved.length; i += 3) moved.set(transformDirection(m, 0, get(d.deltas, i)), i);
      return [n, { vertices: d.vertices, deltas: moved }];
    }),
  );
  let joint = NO_JOINT;
  for (let n = node.getParentNode(); n && joint === NO_JOINT; n = n.getParentNode())
    if (skeleton && jointOfNode.has(n) && skeleton.inSkin[jointOfNode.get(n)!]) joint = jointOfNode.get(n)!;
  let binding: SkinBinding | null = null;
  if (joint !== NO_JOINT && world && skeleton) {
    const count = positions.length / 3;
    const inverseBinds = new Float32Array(world.length);
    const inverse = new Float64Array(16);
    for (let j = 0; j < skeleton.joints.length; j++)
      if (invertAffine(inverse, 0, world, 16 * j)) inverseBinds.set(inverse, 16 * j);
    const weights = new Float32Array(4 * count);
    for (let v = 0; v < count; v++) weights[4 * v] = 1;
    binding = {
      influenceCount: 4,
      joints: new Uint16Array(4 * count).fill(joint),
      weights,
      inverseBinds: sameBinds(inverseBinds, skeleton, [joint]) ? null : inverseBinds,
    };
  }
  return { part: { ...data.part, positions, skin: binding }, deltas };
}

const sameBinds = (own: Float32Array, skeleton: Skeleton, joints: readonly number[]): boolean =>
  joints.every((j) =>
    own.subarray(16 * j, 16 * j + 16).every((x, k) => Math.abs(x - skeleton.inverseBinds[16 * j + k]!) < 1e-6),
  );

function ownBinds(skin: Skin, bones: Bones, file: string): Float32Array | null {
  const skeleton = bones.skeleton!;
  const own = skeleton.inverseBinds.slice();
  const joints: number[] = [];
  bindMatrices(skin, file).forEach((m, node) => {
    const j = bones.jointOfNode.get(node)!;
    joints.push(j);
    own.set(m, 16 * j);
  });
  return sameBinds(own, skeleton, joints) ? null : own;
}

function readClips(document: Document, bones: Bones, file: string, notes: string[]): Clip[] {
  return document
    .getRoot()
    .listAnimations()
    .map((animation, i) => {
      const tracks: ClipTrack[] = [];
      const weights = new Map<string, WeightTrack>();
      for (const channel of animation.listChannels()) {
        const node = channel.getTargetNode();
        const sampler = channel.getSampler();
        const path = channel.getTargetPath();
        const joint = node && bones.jointOfNode.get(node);
        const input = sampler?.getInput();
        const output = sampler?.getOutput();
        if (path === "weights" && node?.getMesh() && input && output) {
          const place = `${file}, clip ${shortName(animation.getName() || String(i + 1))}`;
          readWeights(node.getMesh()!, input, output, sampler!.getInterpolation(), weights, place);
          continue;
        }
        if (
          joint === undefined ||
          joint === null ||
          !bones.skeleton ||
          !input ||
          !output ||
          path === "weights" ||
          !path
        ) {
          notes.push(
            `Clip ${shortName(animation.getName() || String(i + 1))}: a ` +
              `track of ${path ?? "nothing"} without a joint was left out.`,
          );
          continue;
        }
        const times = floats(input, `clip ${i}, times`, file, "Export the clip again.");
        const back = times.findIndex((t, k) => k > 0 && !(t > times[k - 1]!));
        if (back > 0)
          throw new UserError(
            `Key ${back} of ${shortName(bones.skeleton.joints[joint]!.name)} ` +
              `comes at ${times[back]} s, after one at ${times[back - 1]} s.`,
            `${file}, clip ${shortName(animation.getName() || String(i + 1))}`,
            "Export the clip again, with its keys in order of time.",
          );
        const name = bones.skeleton.joints[joint]!.name;
        const interpolation = sampler!.getInterpolation();
        const given = floats(output, `clip ${i}, values`, file, "Export the clip again.");
        const values =
          path === "rotation"
            ? unitTurns(given, interpolation, `${file}, clip ${shortName(animation.getName() || String(i + 1))}`, name)
            : given;
        if (values !== given)
          notes.push(
            `Clip ${shortName(animation.getName() || String(i + 1))}: turns of ${shortName(name)} brought to unit length.`,
          );
        tracks.push({ joint: name, path, interpolation, times, values });
      }
      return {
        name: cleanName(animation.getName()) || `clip ${i + 1}`,
        tracks,
        ...(weights.size ? { weights: [...weights.values()] } : {}),
      };
    });
}

/** A turn whose length is this far from 1 is rounding. */
const UNIT = 1e-3;

/**
 * Turns at unit length: between others no way can be told. Tangents of splines are scaled with their keys. The same
 * array where all are. @throws UserError for one of no length.
 */
function unitTurns(
  values: Float32Array,
  interpolation: ClipTrack["interpolation"],
  place: string,
  joint: string,
): Float32Array {
  const cubic = interpolation === "CUBICSPLINE";
  const step = cubic ? 12 : 4;
  let out = values;
  for (let k = 0; k * step < values.length; k++) {
    const at = k * step + (cubic ? 4 : 0);
    const long = Math.hypot(values[at]!, values[at + 1]!, values[at + 2]!, values[at + 3]!);
    if (!(long > 1e-6))
      throw new UserError(`Key ${k} of ${shortName(joint)} is a turn of no length.`, place, "Export the clip again.");
    if (Math.abs(long - 1) <= UNIT) continue;
    if (out === values) out = values.slice();
    for (let i = k * step; i < (k + 1) * step; i++) out[i] = values[i]! / long;
  }
  return out;
}

/**
 * Weights of a mesh's shapes over time, by shape; one that another mesh has played already is left. Of cubic splines
 * the values are kept and led over straight.
 */
function readWeights(
  mesh: Mesh,
  input: Accessor,
  output: Accessor,
  interpolation: ClipTrack["interpolation"],
  into: Map<string, WeightTrack>,
  place: string,
): void {
  const [primitive] = mesh.listPrimitives();
  const names = primitive ? namesOfTargets(primitive, (mesh.getExtras() as { targetNames?: unknown }).targetNames) : [];
  const todo = "Export the clip again.";
  const times = floats(input, `${place}, times of weights`, place, todo);
  const values = floats(output, `${place}, weights`, place, todo);
  const each = interpolation === "CUBICSPLINE" ? 3 : 1;
  if (values.length !== each * times.length * names.length)
    throw new UserError(
      `There are ${values.length} weights for ${times.length} keys of ${names.length} shapes.`,
      place,
      todo,
    );
  const back = times.findIndex((t, k) => k > 0 && !(t > times[k - 1]!));
  if (back > 0)
    throw new UserError(`Key ${back} of its weights comes at ${times[back]} s, after a later one.`, place, todo);
  names.forEach((shape, n) => {
    const own = Float32Array.from(times, (_, k) => values[(k * each + (each === 3 ? 1 : 0)) * names.length + n]!);
    if (into.has(shape) || own.every((w) => w === 0)) return;
    into.set(shape, { shape, interpolation: interpolation === "STEP" ? "STEP" : "LINEAR", times, values: own });
  });
}
