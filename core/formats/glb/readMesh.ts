import type { Material as GltfMaterial, Mesh, Primitive } from "@gltf-transform/core";
import { evenFaceStarts, type FaceGroup, type Part } from "../../model/character";
import { guessPartKind } from "../../model/partKind";
import { smoothByNormals } from "../../model/smoothPlaces";
import { uniqueName } from "../../model/uniqueName";
import { shortName, UserError } from "../../model/userError";
import { meshExtrasSchema } from "../extras";
import { floats } from "./accessorFloats";
import { foldCopies } from "./foldCopies";

/** One mesh of a file as read, before it is bound or placed. */
export interface MeshData {
  readonly part: Omit<Part, "skin">;
  /** Per primitive run: skin attributes in glTF's own sets. */
  readonly influences: { joints: Uint16Array; weights: Float32Array; count: number } | null;
  readonly deltas: Map<string, { vertices: Uint32Array; deltas: Float32Array }>;
}

const sharesVertices = (a: Primitive, b: Primitive): boolean =>
  a.listSemantics().join() === b.listSemantics().join() &&
  a.listAttributes().every((x, i) => x === b.listAttributes()[i]);

/** The rows of a mesh's primitives, one after the other. */
interface Rows {
  readonly positions: Float32Array[];
  readonly corners: number[];
  readonly groups: FaceGroup[];
  readonly uvs: Float32Array[];
  readonly colors: Float32Array[];
  readonly normals: Float32Array[];
  readonly joints: { array: Float32Array; sets: number; weights: Float32Array }[];
  readonly deltas: Map<string, { vertices: number[]; deltas: number[] }>;
  vertexCount: number;
}

/** Joins the primitives of a mesh into one part; null when none of them holds faces. */
export function readMesh(
  mesh: Mesh,
  name: string,
  file: string,
  notes: string[],
  materialOf: (m: GltfMaterial | null) => number,
): MeshData | null {
  const primitives = mesh.listPrimitives().filter((p) => {
    if (p.getMode() === 4 && p.getAttribute("POSITION")) return true;
    notes.push(`Part ${shortName(name)}: lines, points or strips were left out.`);
    return false;
  });
  if (primitives.length === 0) return null;
  const rows = rowsOf(mesh, primitives, name, file, materialOf);
  const { groups, corners, joints, vertexCount } = rows;
  const complete = (list: Float32Array[], size: number): Float32Array | null => {
    const all = concat(list);
    return all.length === size * vertexCount ? all : null;
  };
  const materialNames = primitives.map((p) => p.getMaterial()?.getName() ?? "");
  const extras = meshExtrasSchema.safeParse((mesh.getExtras() as { yxomorph?: unknown }).yxomorph);
  const faces = polygonsOf(Uint32Array.from(corners), groups, extras.success ? extras.data.polygons : undefined);
  const places = concat(rows.positions);
  const ofFile = complete(rows.normals, 3);
  const smooth = ofFile && smoothByNormals(places, ofFile);
  const setCount = joints.length ? Math.max(...joints.map((j) => j.sets)) : 0;
  const read = {
    name,
    kind: extras.success ? extras.data.kind : guessPartKind(name, materialNames),
    positions: places,
    ...faces,
    ...(smooth ? { smooth } : {}),
    uvs: complete(rows.uvs, 2),
    colors: complete(rows.colors, 4),
  };
  const { part, vertexCount: kept } = foldCopies(read, extras.success ? extras.data : {});
  const bound = joints.length && joints.length === rows.positions.length ? mergeInfluences(joints, setCount) : null;
  return {
    part,
    influences: bound && {
      count: bound.count,
      joints: bound.joints.slice(0, bound.count * kept),
      weights: bound.weights.slice(0, bound.count * kept),
    },
    deltas: new Map(
      [...rows.deltas].map(([n, d]) => [
        n,
        kept === vertexCount
          ? { vertices: Uint32Array.from(d.vertices), deltas: Float32Array.from(d.deltas) }
          : movesBelow(kept, d),
      ]),
    ),
  };
}

function rowsOf(
  mesh: Mesh,
  primitives: readonly Primitive[],
  name: string,
  file: string,
  materialOf: (m: GltfMaterial | null) => number,
): Rows {
  const rows: Rows = {
    positions: [],
    corners: [],
    groups: [],
    uvs: [],
    colors: [],
    normals: [],
    joints: [],
    deltas: new Map(),
    vertexCount: 0,
  };
  const offsets: number[] = [];
  primitives.forEach((p, i) => {
    const same = primitives.slice(0, i).findIndex((q) => sharesVertices(q, p));
    offsets[i] = same < 0 ? rows.vertexCount : offsets[same]!;
    if (same < 0) addVertices(rows, mesh, p, name, file);
    const start = rows.corners.length / 3;
    addCorners(rows, p, offsets[i]!, `${file}, part ${shortName(name)}`);
    const faceCount = rows.corners.length / 3 - start;
    rows.groups.push({ material: materialOf(p.getMaterial()), faceStart: start, faceCount });
  });
  return rows;
}

/** Everything that a primitive tells of its own vertices. */
function addVertices(rows: Rows, mesh: Mesh, p: Primitive, name: string, file: string): void {
  const part = `part ${shortName(name)}`;
  const where = `${file}, ${part}`;
  const accessor = p.getAttribute("POSITION")!;
  const count = accessor.getCount();
  rows.positions.push(floats(accessor, `${part}, POSITION`, file));
  const uv = p.getAttribute("TEXCOORD_0");
  if (uv) rows.uvs.push(floats(uv, `${part}, TEXCOORD_0`, file));
  const normal = p.getAttribute("NORMAL");
  // normals are made anew from the faces; of those in the file only hard edges are kept, and broken ones have none
  if (normal)
    rows.normals.push(
      Float32Array.from({ length: 3 * count }, (_, k) => normal.getElement(Math.floor(k / 3), [])[k % 3]!),
    );
  const color = p.getAttribute("COLOR_0");
  if (color) rows.colors.push(toRgba(floats(color, `${part}, COLOR_0`, file), color.getElementSize()));
  const { targetNames } = mesh.getExtras() as { targetNames?: unknown };
  readInfluences(p, rows.joints, where, file);
  readTargets(p, rows.vertexCount, count, targetNames, rows.deltas, where, file);
  rows.vertexCount += count;
}

function addCorners({ corners }: Rows, p: Primitive, offset: number, where: string): void {
  const count = p.getAttribute("POSITION")!.getCount();
  const indices = p.getIndices()?.getArray() ?? Uint32Array.from({ length: count }, (_, k) => k);
  for (let k = 0; k + 2 < indices.length; k += 3)
    for (let c = 0; c < 3; c++) {
      const v = indices[k + c]!;
      if (v >= count)
        throw new UserError(`Face ${k / 3} uses vertex ${v}; there are ${count}.`, where, "Export it again.");
      corners.push(v + offset);
    }
}

/** Movements of the first vertices alone. */
function movesBelow(
  count: number,
  { vertices, deltas }: { vertices: readonly number[]; deltas: readonly number[] },
): { vertices: Uint32Array; deltas: Float32Array } {
  const rows = Array.from(vertices.keys()).filter((k) => vertices[k]! < count);
  return {
    vertices: Uint32Array.from(rows, (k) => vertices[k]!),
    deltas: Float32Array.from(rows.flatMap((k) => deltas.slice(3 * k, 3 * k + 3))),
  };
}

const concat = (list: readonly Float32Array[]): Float32Array => {
  const out = new Float32Array(list.reduce((n, a) => n + a.length, 0));
  let at = 0;
  for (const a of list) {
    out.set(a, at);
    at += a.length;
  }
  return out;
};
const toRgba = (values: Float32Array, size: number): Float32Array => {
  if (size === 4) return values;
  const out = new Float32Array((values.length / 3) * 4).fill(1);
  for (let v = 0; v < values.length / 3; v++) out.set(values.subarray(3 * v, 3 * v + 3), 4 * v);
  return out;
};

/** Puts triangles back into the polygons they were cut from, when the file says how (fans in order). */
function polygonsOf(
  triangles: Uint32Array,
  groups: readonly FaceGroup[],
  runs: readonly number[] | undefined,
): Pick<Part, "corners" | "faceStarts" | "groups"> {
  const plain = { corners: triangles, faceStarts: evenFaceStarts(triangles.length / 3, 3), groups };
  if (!runs) return plain;
  // what the runs come to is told before they are written out
  let made = 0;
  for (let i = 0; i + 1 < runs.length; i += 2) {
    if (runs[i]! < 3) return plain;
    made += (runs[i]! - 2) * runs[i + 1]!;
  }
  if (made !== triangles.length / 3) return plain;
  const sizes: number[] = [];
  for (let i = 0; i + 1 < runs.length; i += 2) for (let n = 0; n < runs[i + 1]!; n++) sizes.push(runs[i]!);
  const corners: number[] = [];
  const starts = [0];
  const faceAtTriangle = new Map<number, number>();
  let t = 0;
  for (const size of sizes) {
    faceAtTriangle.set(t, starts.length - 1);
    corners.push(triangles[3 * t]!, triangles[3 * t + 1]!);
    for (let k = 0; k < size - 2; k++, t++) corners.push(triangles[3 * t + 2]!);
    starts.push(corners.length);
  }
  faceAtTriangle.set(t, sizes.length);
  const ends = groups.map(
    (g) => [faceAtTriangle.get(g.faceStart), faceAtTriangle.get(g.faceStart + g.faceCount)] as const,
  );
  if (ends.some(([a, b]) => a === undefined || b === undefined)) return plain;
  return {
    corners: Uint32Array.from(corners),
    faceStarts: Uint32Array.from(starts),
    groups: groups.map((g, i) => ({ ...g, faceStart: ends[i]![0]!, faceCount: ends[i]![1]! - ends[i]![0]! })),
  };
}

function readInfluences(
  p: Primitive,
  out: { array: Float32Array; sets: number; weights: Float32Array }[],
  where: string,
  file: string,
): void {
  const jointSets: Float32Array[] = [];
  const weightSets: Float32Array[] = [];
  for (let s = 0; p.getAttribute(`JOINTS_${s}`) && p.getAttribute(`WEIGHTS_${s}`); s++) {
    const j = p.getAttribute(`JOINTS_${s}`)!;
    jointSets.push(Float32Array.from(j.getArray()!));
    weightSets.push(floats(p.getAttribute(`WEIGHTS_${s}`)!, `${where.slice(file.length + 2)}, WEIGHTS_${s}`, file));
  }
  if (jointSets.length === 0) return;
  const count = p.getAttribute("POSITION")!.getCount();
  const sets = jointSets.length;
  const array = new Float32Array(count * 4 * sets);
  const weights = new Float32Array(count * 4 * sets);
  for (let v = 0; v < count; v++)
    for (let s = 0; s < sets; s++) {
      array.set(jointSets[s]!.subarray(4 * v, 4 * v + 4), (v * sets + s) * 4);
      weights.set(weightSets[s]!.subarray(4 * v, 4 * v + 4), (v * sets + s) * 4);
    }
  out.push({ array, sets, weights });
}

function mergeInfluences(
  list: readonly { array: Float32Array; sets: number; weights: Float32Array }[],
  sets: number,
): { joints: Uint16Array; weights: Float32Array; count: number } {
  const vertexCount = list.reduce((n, l) => n + l.weights.length / (4 * l.sets), 0);
  const joints = new Uint16Array(vertexCount * 4 * sets);
  const weights = new Float32Array(vertexCount * 4 * sets);
  let v = 0;
  for (const l of list)
    for (let i = 0; i < l.weights.length; i += 4 * l.sets, v++) {
      joints.set(l.array.subarray(i, i + 4 * l.sets), v * 4 * sets);
      weights.set(l.weights.subarray(i, i + 4 * l.sets), v * 4 * sets);
    }
  return { joints, weights, count: 4 * sets };
}

/** What the targets of a mesh are called, in their order. @param names as the mesh's extras have them. */
export function namesOfTargets(p: Primitive, names: unknown): string[] {
  const taken = new Set<string>();
  return p.listTargets().map((target, t) => {
    const given =
      Array.isArray(names) && typeof names[t] === "string" ? (names[t] as string) : String(target.getName() ?? "");
    // without names the library counts from 0
    return uniqueName(given === String(t) ? "" : given, taken, `shape ${t + 1}`);
  });
}

function readTargets(
  p: Primitive,
  offset: number,
  count: number,
  names: unknown,
  out: Map<string, { vertices: number[]; deltas: number[] }>,
  where: string,
  file: string,
): void {
  const called = namesOfTargets(p, names);
  p.listTargets().forEach((target, t) => {
    const name = called[t]!;
    const entry = out.get(name) ?? { vertices: [], deltas: [] };
    out.set(name, entry);
    const accessor = target.getAttribute("POSITION");
    if (!accessor) return;
    if (accessor.getCount() !== count)
      throw new UserError(
        `Shape ${shortName(name)} has ${accessor.getCount()} vertices; the part has ${count}.`,
        where,
        "Make the shape from this mesh and export again.",
      );
    const d = floats(accessor, `shape ${shortName(name)}`, file);
    for (let v = 0; v < count; v++)
      if (d[3 * v] !== 0 || d[3 * v + 1] !== 0 || d[3 * v + 2] !== 0) {
        entry.vertices.push(v + offset);
        entry.deltas.push(d[3 * v]!, d[3 * v + 1]!, d[3 * v + 2]!);
      }
  });
}
