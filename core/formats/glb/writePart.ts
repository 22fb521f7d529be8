import type { Accessor, Document, Material, Mesh, Primitive } from "@gltf-transform/core";
import { ShadedSurface } from "../../deform/shadedSurface";
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

/**
 * How far directions turn from rest to where they are now, 3 x the vertices of the part: none where it cannot be seen.
 * @param size numbers of a direction. @param now of some vertices only. @returns how many of them turn, too.
 */
function turnsOf(
  rest: Float32Array,
  now: Float32Array,
  size: 3 | 4,
  vertices: Uint32Array,
): { turns: Float32Array<ArrayBuffer>; bent: number } {
  const turns = new Float32Array((3 * rest.length) / size);
  let bent = 0;
  for (let i = 0; i < vertices.length; i++) {
    const v = vertices[i]!;
    const x = Math.fround(now[size * i]! - rest[size * v]!);
    const y = Math.fround(now[size * i + 1]! - rest[size * v + 1]!);
    const z = Math.fround(now[size * i + 2]! - rest[size * v + 2]!);
    if (Math.hypot(x, y, z) <= LEAST_TURN) continue;
    bent++;
    turns[3 * v] = x;
    turns[3 * v + 1] = y;
    turns[3 * v + 2] = z;
  }
  return { turns, bent };
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

/** A normal map is read along tangents, and they turn with the shapes as the normals do. */
const isBumpy = ({ materials }: Character, part: Part): boolean =>
  part.groups.some((g) => materials[g.material]?.maps?.some((m) => m.slot === "normal"));

interface Target {
  readonly name: string;
  readonly position: Accessor;
  readonly normal: Accessor;
  readonly tangent: Accessor | null;
}

/** What each shape adds to a part. */
function targetsOf(character: Character, p: number, surface: ShadedSurface, accessor: MakeAccessor): Target[] {
  const part = character.parts[p]!;
  const packed = (array: Float32Array<ArrayBuffer>, count: number): Accessor =>
    accessor("", "VEC3", array).setSparse(count > 0 && count * 4 < vertexCountOf(part) * 3);
  const there = part.positions.slice();
  return character.shapes.flatMap((s) =>
    s.deltas
      .filter((d) => d.part === p)
      .map(({ vertices: moved, deltas }): Target => {
        const dense = new Float32Array(part.positions.length);
        moved.forEach((v, k) => dense.set(deltas.subarray(3 * k, 3 * k + 3), 3 * v));
        for (const v of moved) for (let i = 3 * v; i < 3 * v + 3; i++) there[i] = part.positions[i]! + dense[i]!;
        // players that blend normals shade a moved face as its moved surface lies
        const { vertices, normals, tangents } = surface.at(there, moved);
        for (const v of moved) there.set(part.positions.subarray(3 * v, 3 * v + 3), 3 * v);
        const turned = turnsOf(surface.normals, normals, 3, vertices);
        const swung = surface.tangents && tangents && turnsOf(surface.tangents, tangents, 4, vertices);
        const tangent = swung && packed(swung.turns, swung.bent);
        return {
          name: s.name,
          position: packed(dense, moved.length),
          normal: packed(turned.turns, turned.bent),
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
  const surface = new ShadedSurface(part, isBumpy(character, part));
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
