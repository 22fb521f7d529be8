import { schemaFault } from "../../model/schemaWords";
import { shortName, UserError } from "../../model/userError";
import { BUDGET, within } from "../../model/budget";
import { parseJsonText } from "../../model/parseJsonText";
import { checkAccessors } from "./checkAccessors";
import { gltfSchema, type GltfJson } from "./gltfSchema";

export type { GltfJson };

const READABLE_EXTENSIONS = ["KHR_mesh_quantization", "EXT_meshopt_compression", "KHR_texture_transform"];
const ASK_AGAIN = "Ask for the file to be exported again.";

/** Splits a GLB container after checking its header and chunk lengths (glTF 2.0 specification, section 4.4). */
export function splitGlb(bytes: Uint8Array, file: string): { json: GltfJson; binary: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67)
    throw new UserError("This is not a GLB file: its first bytes are not glTF.", file, "Send glTF 2.0 (.glb) or OBJ.");
  const version = view.getUint32(4, true);
  if (version !== 2)
    throw new UserError(
      `This is glTF version ${version}; version 2 is read.`,
      `${file}, byte 4`,
      "Export it as glTF 2.0.",
    );
  const total = view.getUint32(8, true);
  if (total > bytes.length)
    throw new UserError(
      `The file is cut short: its header says ${total} bytes and ${bytes.length} came.`,
      `${file}, byte 8`,
      "Copy or upload it again.",
    );
  const jsonLength = view.getUint32(12, true);
  if (view.getUint32(16, true) !== 0x4e4f534a || 20 + jsonLength > bytes.length)
    throw new UserError("The first chunk is not whole JSON.", `${file}, byte 12`, ASK_AGAIN);
  const json = parseJson(bytes.subarray(20, 20 + jsonLength), file);
  const next = 20 + jsonLength;
  let binary: Uint8Array = new Uint8Array(0);
  if (next + 8 <= total) {
    const length = view.getUint32(next, true);
    if (next + 8 + length > bytes.length)
      throw new UserError(
        `The binary chunk says ${length} bytes and ${bytes.length - next - 8} are left.`,
        `${file}, byte ${next}`,
        "Copy or upload it again.",
      );
    binary = bytes.subarray(next + 8, next + 8 + length);
  }
  return { json, binary };
}

/** Parses the JSON part and proves the form of what will be used of it. */
export function parseJson(bytes: Uint8Array, file: string): GltfJson {
  let text: string;
  try {
    text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    throw new UserError("The JSON part is not UTF-8 text.", file, ASK_AGAIN);
  }
  const parsed = gltfSchema.safeParse(parseJsonText(text, file, "The JSON part does not parse.", ASK_AGAIN));
  if (parsed.success) return parsed.data;
  const { what, where } = schemaFault(parsed.error, "top");
  throw new UserError(`It is not of glTF's form: ${what}.`, `${file}, ${where.replaceAll(".", " ")}`, ASK_AGAIN);
}

/**
 * Refuses documents that point outside themselves, loop, or claim more data than there is. `binaryLength` is that of
 * buffer 0.
 */
export function checkGltf(json: GltfJson, bufferLengths: readonly number[], file: string): void {
  const at = (place: string): string => `${file}, ${place}`;
  if (!/^2\./.test(json.asset?.version ?? ""))
    throw new UserError("The asset version is not 2.x.", at("asset"), "Export it as glTF 2.0.");
  const unknown = (json.extensionsRequired ?? []).filter(
    (e) => !READABLE_EXTENSIONS.includes(e) && !e.startsWith("KHR_materials_"),
  );
  if (unknown.length)
    throw new UserError(
      `The file cannot be read without ${unknown.join(", ")}, which is not read here.`,
      at("extensionsRequired"),
      "Export it without that extension.",
    );
  const count = (list: unknown): number => (Array.isArray(list) ? list.length : 0);
  const index: Index = (value, list, place, what) => {
    if (value === undefined) return;
    if (typeof value !== "number" || !Number.isInteger(value) || value < 0 || value >= count(list))
      throw new UserError(`It points at ${what} ${String(value)}; there are ${count(list)}.`, at(place), ASK_AGAIN);
  };
  checkBufferViews(json, bufferLengths, index, file);
  checkMeshIndices(json, index);
  checkMaterialIndices(json, index);
  checkMotionIndices(json, index);
  checkTree(json, index, at);
  checkAccessors(json, file);
}

/** Refuses a number that is no place of a list. */
type Index = (value: unknown, list: unknown, place: string, what: string) => void;

function checkBufferViews(json: GltfJson, bufferLengths: readonly number[], index: Index, file: string): void {
  let opened = 0;
  json.bufferViews?.forEach((v, i) => {
    const where = `${file}, buffer view ${i}`;
    index(v.buffer, json.buffers, `buffer view ${i}`, "buffer");
    const length = bufferLengths[v.buffer ?? 0] ?? 0;
    for (const n of [v.byteOffset ?? 0, v.byteLength ?? 0, v.byteStride ?? 0])
      if (!Number.isInteger(n) || n < 0)
        throw new UserError("Its offset, length or stride is not a whole number of bytes.", where, ASK_AGAIN);
    opened += openedBytes(v);
    const end = (v.byteOffset ?? 0) + (v.byteLength ?? 0);
    if (!(end <= length) && !("extensions" in v))
      throw new UserError(
        `It ends at byte ${end} of a buffer of ${length} bytes.`,
        where,
        "Copy or upload the file again.",
      );
  });
  within("openedBytes", opened, file);
}

function checkMeshIndices(json: GltfJson, index: Index): void {
  json.accessors?.forEach((a, i) => {
    for (const view of [a.bufferView, a.sparse?.indices.bufferView, a.sparse?.values.bufferView])
      index(view, json.bufferViews, `accessor ${i}`, "buffer view");
  });
  json.meshes?.forEach((mesh, m) =>
    mesh.primitives.forEach((p, k) => {
      const place = `mesh ${m}, primitive ${k}`;
      for (const [name, accessor] of Object.entries(p.attributes))
        index(accessor, json.accessors, `${place}, ${name}`, "accessor");
      index(p.indices, json.accessors, `${place}, indices`, "accessor");
      index(p.material, json.materials, place, "material");
      for (const target of p.targets ?? [])
        for (const accessor of Object.values(target)) index(accessor, json.accessors, `${place}, targets`, "accessor");
    }),
  );
}

function checkMaterialIndices(json: GltfJson, index: Index): void {
  json.images?.forEach((image, i) => index(image.bufferView, json.bufferViews, `image ${i}`, "buffer view"));
  json.textures?.forEach((texture, t) => {
    index(texture.source, json.images, `texture ${t}`, "image");
    index(texture.sampler, json.samplers, `texture ${t}`, "sampler");
  });
  json.materials?.forEach((m, i) => {
    const pbr = m.pbrMetallicRoughness;
    for (const info of [
      pbr?.baseColorTexture,
      pbr?.metallicRoughnessTexture,
      m.normalTexture,
      m.occlusionTexture,
      m.emissiveTexture,
    ])
      index(info?.index, json.textures, `material ${i}`, "texture");
  });
}

/** What joints, scenes and animations point at. */
function checkMotionIndices(json: GltfJson, index: Index): void {
  json.skins?.forEach((skin, s) => {
    for (const j of skin.joints) index(j, json.nodes, `skin ${s}`, "node");
    index(skin.skeleton, json.nodes, `skin ${s}`, "node");
    index(skin.inverseBindMatrices, json.accessors, `skin ${s}`, "accessor");
  });
  json.scenes?.forEach((scene, s) => (scene.nodes ?? []).forEach((n) => index(n, json.nodes, `scene ${s}`, "node")));
  json.animations?.forEach((animation, i) => {
    for (const s of animation.samplers)
      for (const a of [s.input, s.output]) index(a, json.accessors, `animation ${i}`, "accessor");
    for (const c of animation.channels) {
      index(c.sampler, animation.samplers, `animation ${i}`, "sampler");
      index(c.target.node, json.nodes, `animation ${i}`, "node");
    }
  });
}

/** Bytes that a compressed buffer view opens to, as it says itself (EXT_meshopt_compression). */
function openedBytes(view: object): number {
  const ext = (view as { extensions?: { EXT_meshopt_compression?: { count?: unknown; byteStride?: unknown } } })
    .extensions?.EXT_meshopt_compression;
  if (!ext) return 0;
  const [count, stride] = [Number(ext.count), Number(ext.byteStride)];
  return count >= 0 && stride > 0 ? count * stride : Infinity;
}

function checkTree(json: GltfJson, index: Index, at: (p: string) => string): void {
  const nodes = json.nodes ?? [];
  const parent = new Int32Array(nodes.length).fill(-1);
  nodes.forEach((node, n) => {
    index(node.mesh, json.meshes, `node ${n}`, "mesh");
    index(node.skin, json.skins, `node ${n}`, "skin");
    for (const child of node.children ?? []) {
      index(child, nodes, `node ${n}`, "node");
      if (parent[child] !== -1)
        throw new UserError(
          `Node ${child} has two parents, ${parent[child]} and ${n}.`,
          at(`node ${child}`),
          "Give each joint one parent and export again.",
        );
      parent[child] = n;
    }
  });
  // levels of the tree from its roots down: what none of them reaches is a loop
  within("nodes", nodes.length, at("nodes"));
  const depth = new Int32Array(nodes.length);
  const reached = nodes.flatMap((_, n) => (parent[n] === -1 ? [n] : []));
  for (const n of reached) depth[n] = 1;
  for (let i = 0; i < reached.length; i++) {
    const n = reached[i]!;
    if (depth[n]! > BUDGET.depth)
      within(
        "depth",
        depth[n]!,
        at(`node ${n}`),
        "Hang the joints less deep, or send the character without its scene.",
      );
    for (const child of nodes[n]!.children ?? []) {
      depth[child] = depth[n]! + 1;
      reached.push(child);
    }
  }
  const lost = depth.indexOf(0);
  if (lost >= 0)
    throw new UserError(
      `Node ${lost}${nodes[lost]!.name ? ` (${shortName(nodes[lost]!.name!)})` : ""} ` +
        "is its own ancestor: the joints form a loop.",
      at(`node ${lost}`),
      "Break the loop in the skeleton and export again.",
    );
}
