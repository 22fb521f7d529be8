import type { Accessor, Document, Material, Mesh, Primitive } from "@gltf-transform/core";
import { computeTangents } from "../../deform/computeTangents";
import { drawnNormals } from "../../deform/placeNormals";
import {
  faceCountOf,
  triangulate,
  vertexCountOf,
  type Character,
  type FaceGroup,
  type Part,
} from "../../model/character";

/** Polygon sizes as runs, groups in order; nothing when all are triangles. */
export function polygonRuns(part: Part): { polygons?: number[] } {
  const runs: number[] = [];
  let onlyTriangles = true;
  for (const g of part.groups)
    for (let f = g.faceStart; f < g.faceStart + g.faceCount; f++) {
      const size = part.faceStarts[f + 1]! - part.faceStarts[f]!;
      if (size !== 3) onlyTriangles = false;
      if (runs[runs.length - 2] === size) runs[runs.length - 1]!++;
      else runs.push(size, 1);
    }
  return onlyTriangles || faceCountOf(part) === 0 ? {} : { polygons: runs };
}

/** Makes an accessor of an array in the file's one buffer. */
export type MakeAccessor = (
  name: string,
  type: Parameters<Accessor["setType"]>[0],
  array: Parameters<Accessor["setArray"]>[0],
) => Accessor;

/** Differences of normals that are shorter cannot be seen. */
const LEAST_TURN = 1e-3;

/** Sets turns that cannot be seen to none. @returns how many vertices still turn. */
function leaveStill(turned: Float32Array): number {
  let bent = 0;
  for (let i = 0; i < turned.length; i += 3) {
    if (Math.hypot(turned[i]!, turned[i + 1]!, turned[i + 2]!) > LEAST_TURN) bent++;
    else turned.fill(0, i, i + 3);
  }
  return bent;
}

function partAttributes(
  part: Part,
  normals: Float32Array<ArrayBuffer>,
  accessor: MakeAccessor,
  place: ReadonlyMap<number, number>,
): [string, Accessor][] {
  const vertexCount = vertexCountOf(part);
  const out: [string, Accessor][] = [
    ["POSITION", accessor("", "VEC3", part.positions as Float32Array<ArrayBuffer>)],
    ["NORMAL", accessor("", "VEC3", normals)],
  ];
  if (part.uvs) out.push(["TEXCOORD_0", accessor("", "VEC2", part.uvs as Float32Array<ArrayBuffer>)]);
  if (part.colors) out.push(["COLOR_0", accessor("", "VEC4", part.colors as Float32Array<ArrayBuffer>)]);
  if (part.skin) {
    const { influenceCount, joints, weights } = part.skin;
    for (let s = 0; s * 4 < influenceCount; s++) {
      const j = new Uint16Array(4 * vertexCount);
      const w = new Float32Array(4 * vertexCount);
      for (let v = 0; v < vertexCount; v++)
        for (let k = 0; k < 4 && 4 * s + k < influenceCount; k++) {
          const n = v * influenceCount + 4 * s + k;
          w[4 * v + k] = weights[n]!;
          j[4 * v + k] = weights[n] === 0 ? 0 : place.get(joints[n]!)!;
        }
      out.push([`JOINTS_${s}`, accessor("", "VEC4", j)], [`WEIGHTS_${s}`, accessor("", "VEC4", w)]);
    }
  }
  return out;
}

/** A part as it is drawn: what its shapes' surfaces are compared with. */
interface Surface {
  readonly normalsAt: (positions: Float32Array) => Float32Array<ArrayBuffer>;
  readonly normals: Float32Array<ArrayBuffer>;
  /** Null where no normal map is read along them. */
  readonly tangentsAt: ((positions: Float32Array, normals: Float32Array) => Float32Array<ArrayBuffer>) | null;
  readonly tangents: Float32Array<ArrayBuffer> | null;
}

function surfaceOf(character: Character, part: Part): Surface {
  const normalsAt = drawnNormals(part);
  const normals = normalsAt(part.positions);
  // a normal map is read along tangents, and they turn with the shapes as the normals do
  const bumpy =
    part.uvs !== null &&
    part.groups.some((g) => character.materials[g.material]?.maps?.some((m) => m.slot === "normal"));
  if (!bumpy) return { normalsAt, normals, tangentsAt: null, tangents: null };
  const { triangles } = triangulate(part);
  const tangentsAt = (positions: Float32Array, turned: Float32Array): Float32Array<ArrayBuffer> =>
    computeTangents(positions, part.uvs!, triangles, turned);
  return { normalsAt, normals, tangentsAt, tangents: tangentsAt(part.positions, normals) };
}

interface Target {
  readonly name: string;
  readonly position: Accessor;
  readonly normal: Accessor;
  readonly tangent: Accessor | null;
}

/** What each shape adds to a part. */
function targetsOf(character: Character, p: number, surface: Surface, accessor: MakeAccessor): Target[] {
  const part = character.parts[p]!;
  const packed = (array: Float32Array<ArrayBuffer>, count: number): Accessor =>
    accessor("", "VEC3", array).setSparse(count > 0 && count * 4 < vertexCountOf(part) * 3);
  return character.shapes.flatMap((s) =>
    s.deltas
      .filter((d) => d.part === p)
      .map((d): Target => {
        const dense = new Float32Array(part.positions.length);
        d.vertices.forEach((v, k) => dense.set(d.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
        // players that blend normals shade a moved face as its moved surface lies
        const there = part.positions.map((x, i) => x + dense[i]!);
        const normalsThere = surface.normalsAt(there);
        const turned = normalsThere.map((x, i) => x - surface.normals[i]!);
        const bent = leaveStill(turned);
        const { tangents, tangentsAt } = surface;
        let tangent: Accessor | null = null;
        if (tangents && tangentsAt) {
          const now = tangentsAt(there, normalsThere);
          const swung = Float32Array.from(
            { length: dense.length },
            (_, i) => now[4 * Math.floor(i / 3) + (i % 3)]! - tangents[4 * Math.floor(i / 3) + (i % 3)]!,
          );
          tangent = packed(swung, leaveStill(swung));
        }
        return {
          name: s.name,
          position: packed(dense, d.vertices.length),
          normal: packed(turned as Float32Array<ArrayBuffer>, bent),
          tangent,
        };
      }),
  );
}

/** Corners of the triangles in a run of faces. */
function cornersOf(part: Part, { faceStart, faceCount }: FaceGroup): number[] {
  const { triangles, faceOfTriangle } = triangulate(part);
  const chosen: number[] = [];
  for (let t = 0; t < faceOfTriangle.length; t++) {
    const f = faceOfTriangle[t]!;
    if (f >= faceStart && f < faceStart + faceCount)
      chosen.push(triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!);
  }
  return chosen;
}

/**
 * Writes a part's faces, one primitive for each run of a material, with its shapes as morph targets.
 *
 * @param slots places of the joints in the skin. @returns names of its targets, in their order.
 */
export function writePart(
  document: Document,
  mesh: Mesh,
  character: Character,
  p: number,
  materials: readonly Material[],
  slots: ReadonlyMap<number, number>,
  accessor: MakeAccessor,
): string[] {
  const part = character.parts[p]!;
  const surface = surfaceOf(character, part);
  const attributes = partAttributes(part, surface.normals, accessor, slots);
  if (surface.tangents) attributes.push(["TANGENT", accessor("", "VEC4", surface.tangents)]);
  const targets = targetsOf(character, p, surface, accessor);
  for (const group of part.groups) {
    const chosen = cornersOf(part, group);
    if (chosen.length === 0) continue;
    const indices = vertexCountOf(part) <= 65535 ? Uint16Array.from(chosen) : Uint32Array.from(chosen);
    const primitive = document
      .createPrimitive()
      .setIndices(accessor("", "SCALAR", indices))
      .setMaterial(materials[group.material] ?? null);
    for (const [name, a] of attributes) primitive.setAttribute(name, a);
    for (const target of targets) addTarget(document, primitive, target);
    mesh.addPrimitive(primitive);
  }
  if (targets.length) mesh.setWeights(targets.map(() => 0));
  return targets.map((t) => t.name);
}

const addTarget = (document: Document, primitive: Primitive, { name, position, normal, tangent }: Target): Primitive =>
  primitive.addTarget(
    document
      .createPrimitiveTarget(name)
      .setAttribute("POSITION", position)
      .setAttribute("NORMAL", normal)
      .setAttribute("TANGENT", tangent),
  );
