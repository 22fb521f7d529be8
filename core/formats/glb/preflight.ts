import { z } from "zod";
import { UserError } from "../../model/userError";

const index_ = z.number();
const indices = z.array(index_);
const record = z.record(z.string(), index_);
/** What of a glTF document the reader checks before trusting it; everything else passes unread. */
const gltfSchema = z.looseObject({
  asset: z.looseObject({ version: z.string().optional() }).optional(),
  extensionsRequired: z.array(z.string()).optional(),
  nodes: z.array(z.looseObject({ children: indices.optional(), mesh: index_.optional(), skin: index_.optional(), name: z.string().optional() })).optional(),
  scenes: z.array(z.looseObject({ nodes: indices.optional() })).optional(),
  meshes: z.array(z.looseObject({ name: z.string().optional(), primitives: z.array(z.looseObject({ attributes: record.optional(), indices: index_.optional(), mode: z.number().optional(), material: index_.optional(), targets: z.array(record).optional() })).optional() })).optional(),
  skins: z.array(z.looseObject({ joints: indices.optional(), inverseBindMatrices: index_.optional() })).optional(),
  accessors: z.array(z.looseObject({ bufferView: index_.optional(), byteOffset: z.number().optional(), count: z.number().optional(), componentType: z.number().optional(), type: z.string().optional() })).optional(),
  bufferViews: z.array(z.looseObject({ buffer: index_.optional(), byteOffset: z.number().optional(), byteLength: z.number().optional(), byteStride: z.number().optional() })).optional(),
  buffers: z.array(z.looseObject({ byteLength: z.number().optional(), uri: z.string().optional() })).optional(),
  materials: z.array(z.unknown()).optional(),
});
export type GltfJson = z.infer<typeof gltfSchema>;

const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const TYPE_SIZE: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const READABLE_EXTENSIONS = ["KHR_mesh_quantization", "EXT_meshopt_compression", "KHR_texture_transform"];
const ASK_AGAIN = "Ask for the file to be exported again.";

/** Splits a GLB container after checking its header and chunk lengths (glTF 2.0 specification, section 4.4). */
export function splitGlb(bytes: Uint8Array, file: string): { json: GltfJson; binary: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67) throw new UserError("This is not a GLB file: its first bytes are not glTF.", file, "Send glTF 2.0 (.glb) or OBJ.");
  const version = view.getUint32(4, true);
  if (version !== 2) throw new UserError(`This is glTF version ${version}; version 2 is read.`, `${file}, byte 4`, "Export it as glTF 2.0.");
  const total = view.getUint32(8, true);
  if (total > bytes.length) throw new UserError(`The file is cut short: its header says ${total} bytes and ${bytes.length} came.`, `${file}, byte 8`, "Copy or upload it again.");
  const jsonLength = view.getUint32(12, true);
  if (view.getUint32(16, true) !== 0x4e4f534a || 20 + jsonLength > bytes.length) throw new UserError("The first chunk is not whole JSON.", `${file}, byte 12`, ASK_AGAIN);
  const json = parseJson(bytes.subarray(20, 20 + jsonLength), file);
  const next = 20 + jsonLength;
  let binary: Uint8Array = new Uint8Array(0);
  if (next + 8 <= total) {
    const length = view.getUint32(next, true);
    if (next + 8 + length > bytes.length) throw new UserError(`The binary chunk says ${length} bytes and ${bytes.length - next - 8} are left.`, `${file}, byte ${next}`, "Copy or upload it again.");
    binary = bytes.subarray(next + 8, next + 8 + length);
  }
  return { json, binary };
}

/** Parses the JSON part and proves the form of what will be used of it. */
export function parseJson(bytes: Uint8Array, file: string): GltfJson {
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder("utf-8", { fatal: true }).decode(bytes));
  } catch {
    throw new UserError("The JSON part does not parse.", file, ASK_AGAIN);
  }
  const parsed = gltfSchema.safeParse(json);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new UserError(`It is not of glTF's form: ${issue.message}.`, `${file}, ${issue.path.join(" ") || "top"}`, ASK_AGAIN);
}

/** Refuses documents that point outside themselves, loop, or claim more data than there is. `binaryLength` is that of buffer 0. */
export function checkGltf(json: GltfJson, bufferLengths: readonly number[], file: string): void {
  const at = (place: string): string => `${file}, ${place}`;
  if (!/^2\./.test(json.asset?.version ?? "")) throw new UserError("The asset version is not 2.x.", at("asset"), "Export it as glTF 2.0.");
  const unknown = (json.extensionsRequired ?? []).filter((e) => !READABLE_EXTENSIONS.includes(e) && !e.startsWith("KHR_materials_"));
  if (unknown.length) throw new UserError(`The file cannot be read without ${unknown.join(", ")}, which is not read here.`, at("extensionsRequired"), "Export it without that extension.");
  const count = (list: unknown): number => (Array.isArray(list) ? list.length : 0);
  const index = (value: unknown, list: unknown, place: string, what: string): void => {
    if (value === undefined) return;
    if (typeof value !== "number" || !Number.isInteger(value) || value < 0 || value >= count(list))
      throw new UserError(`It points at ${what} ${String(value)}; there are ${count(list)}.`, at(place), ASK_AGAIN);
  };
  json.bufferViews?.forEach((v, i) => {
    index(v.buffer, json.buffers, `buffer view ${i}`, "buffer");
    const length = bufferLengths[v.buffer ?? 0] ?? 0;
    const end = (v.byteOffset ?? 0) + (v.byteLength ?? 0);
    if (!(end <= length) && !("extensions" in v)) throw new UserError(`It ends at byte ${end} of a buffer of ${length} bytes.`, at(`buffer view ${i}`), "Copy or upload the file again.");
  });
  json.accessors?.forEach((a, i) => {
    const place = `accessor ${i}`;
    index(a.bufferView, json.bufferViews, place, "buffer view");
    const size = (COMPONENT_BYTES[a.componentType ?? 0] ?? 0) * (TYPE_SIZE[a.type ?? ""] ?? 0);
    if (!size || typeof a.count !== "number" || !(a.count >= 0)) throw new UserError("Its type, component type or count is not one of glTF's.", at(place), ASK_AGAIN);
    if (a.count > 50_000_000) throw new UserError(`It claims ${a.count} elements.`, at(place), "Check the file: no character needs that many.");
    if (a.bufferView === undefined) return;
    const view = json.bufferViews![a.bufferView]!;
    const stride = view.byteStride ?? size;
    const need = (a.byteOffset ?? 0) + (a.count > 0 ? stride * (a.count - 1) + size : 0);
    if (need > (view.byteLength ?? 0) && !("extensions" in view)) throw new UserError(`Its ${a.count} elements need ${need} bytes; its buffer view has ${view.byteLength ?? 0}.`, at(place), "Copy or upload the file again.");
  });
  json.meshes?.forEach((mesh, m) =>
    (mesh.primitives ?? []).forEach((p, k) => {
      const place = `mesh ${m}, primitive ${k}`;
      for (const [name, accessor] of Object.entries(p.attributes ?? {})) index(accessor, json.accessors, `${place}, ${name}`, "accessor");
      index(p.indices, json.accessors, `${place}, indices`, "accessor");
      index(p.material, json.materials, place, "material");
      for (const target of p.targets ?? []) for (const accessor of Object.values(target)) index(accessor, json.accessors, `${place}, targets`, "accessor");
    }),
  );
  json.skins?.forEach((skin, s) => {
    for (const j of skin.joints ?? []) index(j, json.nodes, `skin ${s}`, "node");
    index(skin.inverseBindMatrices, json.accessors, `skin ${s}`, "accessor");
  });
  json.scenes?.forEach((scene, s) => (scene.nodes ?? []).forEach((n) => index(n, json.nodes, `scene ${s}`, "node")));
  checkTree(json, index, at);
}

function checkTree(json: GltfJson, index: (v: unknown, list: unknown, place: string, what: string) => void, at: (p: string) => string): void {
  const nodes = json.nodes ?? [];
  const parent = new Int32Array(nodes.length).fill(-1);
  nodes.forEach((node, n) => {
    index(node.mesh, json.meshes, `node ${n}`, "mesh");
    index(node.skin, json.skins, `node ${n}`, "skin");
    for (const child of node.children ?? []) {
      index(child, nodes, `node ${n}`, "node");
      if (parent[child] !== -1) throw new UserError(`Node ${child} has two parents, ${parent[child]} and ${n}.`, at(`node ${child}`), "Give each joint one parent and export again.");
      parent[child] = n;
    }
  });
  for (let n = 0; n < nodes.length; n++) {
    let steps = 0;
    for (let k = n; k !== -1; k = parent[k]!)
      if (++steps > nodes.length) throw new UserError(`Node ${n}${nodes[n]!.name ? ` (${nodes[n]!.name!.slice(0, 60)})` : ""} is its own ancestor: the joints form a loop.`, at(`node ${n}`), "Break the loop in the skeleton and export again.");
  }
}
