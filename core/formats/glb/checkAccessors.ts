import { UserError } from "../../model/userError";
import { within } from "../../model/budget";
import type { GltfAccessor, GltfJson } from "./gltfSchema";

/** Sizes of component types and elements (glTF 2.0, section 3.6.2.2, tables of accessor data types). */
export const COMPONENT_BYTES: Readonly<Record<number, number>> = {
  5120: 1,
  5121: 1,
  5122: 2,
  5123: 2,
  5125: 4,
  5126: 4,
};
const TYPE_SIZE: Readonly<Record<string, number>> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
};
const NAME: Readonly<Record<number, string>> = {
  5120: "signed bytes",
  5121: "unsigned bytes",
  5122: "signed shorts",
  5123: "unsigned shorts",
  5125: "unsigned integers",
  5126: "floats",
};
const AGAIN = "Ask for the file to be exported again.";

interface Wanted {
  readonly types: readonly string[];
  readonly components: readonly number[];
}
const FLOAT = [5126];
const NORMALISED = [5126, 5121, 5123];
/** With KHR_mesh_quantization places and directions may be integers too. */
const QUANTISED = [5126, 5120, 5121, 5122, 5123];
/** What an attribute of a mesh may be stored as (glTF 2.0, section 3.7.2.1; KHR_mesh_quantization). */
const ATTRIBUTES: readonly (readonly [RegExp, Wanted])[] = [
  [/^POSITION$/, { types: ["VEC3"], components: QUANTISED }],
  [/^NORMAL$/, { types: ["VEC3"], components: QUANTISED }],
  [/^TANGENT$/, { types: ["VEC4"], components: QUANTISED }],
  [/^TEXCOORD_\d+$/, { types: ["VEC2"], components: QUANTISED }],
  [/^COLOR_\d+$/, { types: ["VEC3", "VEC4"], components: NORMALISED }],
  [/^JOINTS_\d+$/, { types: ["VEC4"], components: [5121, 5123] }],
  [/^WEIGHTS_\d+$/, { types: ["VEC4"], components: NORMALISED }],
];

const sizeOf = (a: GltfAccessor): number =>
  (COMPONENT_BYTES[a.componentType ?? 0] ?? 0) * (TYPE_SIZE[a.type ?? ""] ?? 0);
/** Whether the elements are somewhere in the file, rather than all zero. */
const hasData = (a: GltfAccessor): boolean => a.bufferView !== undefined || a.sparse !== undefined;

/**
 * Refuses accessors whose elements are not in the file, of another type than what uses them needs, or fewer than the
 * vertices they belong to,
 * and files that would open to more than can be held. Called when all indices have been proved.
 */
export function checkAccessors(json: GltfJson, file: string): void {
  const accessors = json.accessors ?? [];
  const at = (place: string): string => `${file}, ${place}`;
  accessors.forEach((a, i) => checkOne(json, a, at(`accessor ${i}`)));
  const asked: Asked = (index, wanted, place) => {
    const a = accessors[index]!;
    if (!wanted.types.includes(a.type!))
      throw new UserError(
        `Accessor ${index} holds ${a.type}; ${wanted.types.join(" or ")} is needed.`,
        at(place),
        AGAIN,
      );
    if (!wanted.components.includes(a.componentType!))
      throw new UserError(
        `Accessor ${index} holds ${NAME[a.componentType!]}; ` +
          `${wanted.components.map((c) => NAME[c]).join(", ")} can be read.`,
        at(place),
        AGAIN,
      );
    return a;
  };
  const vertexCounts = (json.meshes ?? []).map((mesh, m) =>
    mesh.primitives.reduce(
      (sum, p, k) => sum + checkPrimitive(p, `mesh ${m}, primitive ${k}`, accessors, asked, at),
      0,
    ),
  );
  checkTotals(json, vertexCounts, file);
  checkSkins(json, asked, at);
  checkAnimations(json, asked, file);
}

/** What the nodes of the file open to in all, meshes that stand several times counted as often. */
function checkTotals(json: GltfJson, vertexCounts: readonly number[], file: string): void {
  const accessors = json.accessors ?? [];
  let [parts, vertices, shapeVertices, corners] = [0, 0, 0, 0];
  for (const { mesh: m } of json.nodes ?? []) {
    if (m === undefined) continue;
    parts++;
    vertices += vertexCounts[m]!;
    for (const p of json.meshes![m]!.primitives) {
      const own = accessors[p.attributes["POSITION"] ?? -1]?.count ?? 0;
      shapeVertices += own * (p.targets?.length ?? 0);
      corners += p.indices === undefined ? own : accessors[p.indices]!.count!;
    }
  }
  within("parts", parts, file);
  within("materials", json.materials?.length ?? 0, file);
  within(
    "skinJoints",
    (json.skins ?? []).reduce((n, s) => n + s.joints.length, 0),
    file,
  );
  within("vertices", vertices, file);
  within("corners", corners, file);
  within("shapeVertices", shapeVertices, file);
}

function checkSkins(json: GltfJson, asked: Asked, at: (place: string) => string): void {
  json.skins?.forEach((skin, s) => {
    within("joints", skin.joints.length, at(`skin ${s}`));
    if (skin.inverseBindMatrices === undefined) return;
    const a = asked(
      skin.inverseBindMatrices,
      { types: ["MAT4"], components: FLOAT },
      `skin ${s}, inverse bind matrices`,
    );
    if (a.count! < skin.joints.length)
      throw new UserError(
        `There are ${a.count} inverse bind matrices for ${skin.joints.length} joints.`,
        at(`skin ${s}`),
        "Bind the mesh again and export.",
      );
  });
}

/** What keys of a joint may be stored as (glTF 2.0, section 3.11), by the path they move. */
const KEYS: Readonly<Record<string, Wanted>> = {
  translation: { types: ["VEC3"], components: FLOAT },
  rotation: { types: ["VEC4"], components: QUANTISED },
  scale: { types: ["VEC3"], components: FLOAT },
};

function checkAnimations(json: GltfJson, asked: Asked, file: string): void {
  let keys = 0;
  json.animations?.forEach((animation, i) =>
    animation.channels.forEach((channel, c) => {
      const place = `animation ${i}, channel ${c}`;
      const sampler = animation.samplers[channel.sampler]!;
      const input = asked(sampler.input, { types: ["SCALAR"], components: FLOAT }, `${place}, times`);
      const output = json.accessors![sampler.output]!;
      keys += input.count! + output.count! * (TYPE_SIZE[output.type!] ?? 1);
      const wanted = Object.hasOwn(KEYS, channel.target.path) ? KEYS[channel.target.path]! : null;
      if (!wanted) return;
      asked(sampler.output, wanted, `${place}, values`);
      const each = sampler.interpolation === "CUBICSPLINE" ? 3 : 1;
      if (output.count !== each * input.count!)
        throw new UserError(
          `Accessor ${sampler.output} holds ${output.count} values for ` +
            `${input.count} keys${each === 3 ? ", three for each are needed" : ""}.`,
          `${file}, ${place}`,
          AGAIN,
        );
    }),
  );
  within("clipNumbers", keys, file, "Send the character with fewer clips.");
}

function checkOne(json: GltfJson, a: GltfAccessor, place: string): void {
  const size = sizeOf(a);
  if (!size || typeof a.count !== "number" || !Number.isInteger(a.count) || a.count < 0)
    throw new UserError("Its type, component type or count is not one of glTF's.", place, AGAIN);
  if (!(Number.isInteger(a.byteOffset ?? 0) && (a.byteOffset ?? 0) >= 0))
    throw new UserError("Its offset is not a whole number of bytes.", place, AGAIN);
  const fits = (view: number, offset: number, count: number, each: number, what: string): void => {
    const v = json.bufferViews![view]!;
    if ("extensions" in v) return;
    const stride = what === "elements" ? (v.byteStride ?? each) : each;
    const need = offset + (count > 0 ? stride * (count - 1) + each : 0);
    if (need > (v.byteLength ?? 0))
      throw new UserError(
        `Its ${count} ${what} need ${need} bytes; its buffer view has ${v.byteLength ?? 0}.`,
        place,
        "Copy or upload the file again.",
      );
  };
  if (a.bufferView !== undefined) fits(a.bufferView, a.byteOffset ?? 0, a.count, size, "elements");
  if (!a.sparse) return;
  const { count, indices, values } = a.sparse;
  const indexBytes = COMPONENT_BYTES[indices.componentType] ?? 0;
  if (!Number.isInteger(count) || count < 0 || count > a.count || ![5121, 5123, 5125].includes(indices.componentType))
    throw new UserError(
      `It sets ${count} of ${a.count} elements apart, or by a kind of number that cannot count them.`,
      place,
      AGAIN,
    );
  fits(indices.bufferView, indices.byteOffset ?? 0, count, indexBytes, "numbers of elements");
  fits(values.bufferView, values.byteOffset ?? 0, count, size, "elements set apart");
}

type Asked = (index: number, wanted: Wanted, place: string) => GltfAccessor;
type Primitive = NonNullable<GltfJson["meshes"]>[number]["primitives"][number];

/** @returns how many vertices the primitive has. */
function checkPrimitive(
  p: Primitive,
  place: string,
  accessors: readonly GltfAccessor[],
  asked: Asked,
  at: (place: string) => string,
): number {
  const position = p.attributes["POSITION"];
  if (position === undefined) return 0;
  const { count } = asked(position, ATTRIBUTES[0]![1], `${place}, POSITION`) as { count: number };
  if (count > 0 && !hasData(accessors[position]!))
    throw new UserError(
      "Its vertices have no places: the accessor points at no data.",
      at(`${place}, POSITION`),
      AGAIN,
    );
  const sized = (accessor: number, what: string): void => {
    const n = accessors[accessor]!.count!;
    if (n !== count)
      throw new UserError(
        `Accessor ${accessor} has ${n} elements for ${count} vertices.`,
        at(`${place}, ${what}`),
        "Export the mesh again: every vertex needs its own.",
      );
  };
  for (const [name, accessor] of Object.entries(p.attributes)) {
    const wanted = ATTRIBUTES.find(([pattern]) => pattern.test(name))?.[1];
    if (!wanted) continue;
    asked(accessor, wanted, `${place}, ${name}`);
    sized(accessor, name);
  }
  for (const [t, target] of (p.targets ?? []).entries())
    for (const [name, accessor] of Object.entries(target)) {
      if (!["POSITION", "NORMAL", "TANGENT"].includes(name)) continue;
      asked(accessor, { types: ["VEC3"], components: QUANTISED }, `${place}, target ${t}, ${name}`);
      sized(accessor, `target ${t}, ${name}`);
    }
  if (p.indices !== undefined)
    asked(p.indices, { types: ["SCALAR"], components: [5121, 5123, 5125] }, `${place}, indices`);
  return count;
}
