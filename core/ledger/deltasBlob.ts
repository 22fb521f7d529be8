import { z } from "zod";
import { decodeContainer, encodeContainer } from "../formats/container";
import { buildBvh } from "../math/bvh";
import { near } from "../model/assertCharacter";
import {
  PART_KINDS,
  triangulate,
  vertexCountOf,
  type Character,
  type Part,
  type PartKind,
  type ShapeDelta,
} from "../model/character";
import { UserError } from "../model/userError";
import { carryPoints } from "../surface/carryMovement";

/**
 * Sculpted movement as stored: by part name, with the piece of surface it was made on, so that it can be carried to
 * another mesh.
 */
interface StoredDelta {
  readonly part: string;
  readonly vertexCount: number;
  readonly vertices: Uint32Array;
  readonly deltas: Float32Array;
  readonly kind?: PartKind;
  /** Rest places of `vertices`, metres, bind space. */
  readonly points?: Float32Array;
  /** Triangles between `vertices`, three rows of it each. */
  readonly triangles?: Uint32Array;
}

export const encodeDeltas = (character: Character, deltas: readonly ShapeDelta[]): Uint8Array<ArrayBuffer> =>
  encodeContainer({
    deltas: deltas.map((d): StoredDelta => {
      const part = character.parts[d.part]!;
      return {
        part: part.name,
        kind: part.kind,
        vertexCount: vertexCountOf(part),
        vertices: d.vertices,
        deltas: d.deltas,
        ...patchOf(part, d.vertices),
      };
    }),
  });

/** The places of some vertices, and the triangles all of whose corners are among them, by their rows. */
function patchOf(part: Part, vertices: Uint32Array): { points: Float32Array; triangles: Uint32Array } {
  const { triangles } = triangulate(part);
  const row = new Int32Array(vertexCountOf(part)).fill(-1);
  const points = new Float32Array(3 * vertices.length);
  vertices.forEach((v, k) => {
    row[v] = k;
    points.set(part.positions.subarray(3 * v, 3 * v + 3), 3 * k);
  });
  const inside: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const a = row[triangles[t]!]!;
    const b = row[triangles[t + 1]!]!;
    const c = row[triangles[t + 2]!]!;
    if (a >= 0 && b >= 0 && c >= 0) inside.push(a, b, c);
  }
  return { points, triangles: Uint32Array.from(inside) };
}

const floats = z.instanceof(Float32Array);
const numbers = z.instanceof(Uint32Array);
const storedSchema = z.object({
  deltas: z
    .array(
      z.object({
        part: z.string(),
        vertexCount: z.number().int().nonnegative(),
        vertices: numbers,
        deltas: floats,
        kind: z.enum(PART_KINDS).optional(),
        points: floats.optional(),
        triangles: numbers.optional(),
      }),
    )
    .max(5000),
});

/** What is kept of sculpted movement, proved to hold together. @throws UserError */
function read(bytes: Uint8Array): StoredDelta[] {
  const stored = storedSchema.safeParse(decodeContainer(bytes));
  const fail = (): never => {
    throw new UserError("What is kept of the movement cannot be read.", "sculpt", "Sculpt it again.");
  };
  if (!stored.success) return fail();
  for (const d of stored.data.deltas) {
    const rows = d.vertices.length;
    if (d.deltas.length !== 3 * rows || !near(d.deltas) || d.vertices.some((v) => v >= d.vertexCount)) fail();
    if (d.points && (d.points.length !== 3 * rows || !near(d.points))) fail();
    if (d.triangles && (d.triangles.length % 3 || d.triangles.some((r) => r >= rows))) fail();
  }
  return stored.data.deltas as StoredDelta[];
}

/** The part by its name, else the only one of its kind. */
function partFor(character: Character, stored: StoredDelta): number {
  const named = character.parts.findIndex((p) => p.name === stored.part);
  if (named >= 0) return named;
  const alike = character.parts.flatMap((p, i) => (p.kind === stored.kind && p.kind !== "other" ? [i] : []));
  if (alike.length !== 1)
    throw new UserError(`The character has no part named ${stored.part}.`, "sculpt", "Relink the part first.");
  return alike[0]!;
}

/**
 * Reads deltas for a character: by vertex where the part has as many vertices as the one they were made on, else
 * carried over by the closest surface.
 * @throws UserError when the part is not there, or the numbers do not fit it.
 */
export function decodeDeltas(character: Character, bytes: Uint8Array): ShapeDelta[] {
  return read(bytes).map((d) => {
    const part = partFor(character, d);
    const count = vertexCountOf(character.parts[part]!);
    if (count !== d.vertexCount) return carry(character.parts[part]!, part, d).delta;
    return { part, vertices: d.vertices, deltas: d.deltas };
  });
}

/**
 * How far the farthest vertex lies from the surface its movement was made on, metres, over stored movements that must
 * be carried; null when none must.
 */
export function carriedBySurface(character: Character, blobs: readonly Uint8Array[]): number | null {
  let farthest: number | null = null;
  for (const d of blobs.flatMap(read)) {
    const part = partFor(character, d);
    if (vertexCountOf(character.parts[part]!) !== d.vertexCount)
      farthest = Math.max(farthest ?? 0, carry(character.parts[part]!, part, d).farthest);
  }
  return farthest;
}

/** Farther from the stored surface than this nothing is carried, metres. */
const REACH = 0.012;

/** The patch ends where it moves little: what lies beyond its border fades over the reach. */
function carry(part: Part, index: number, d: StoredDelta): { delta: ShapeDelta; farthest: number } {
  if (!d.points || !d.triangles?.length)
    throw new UserError(
      `It was sculpted on ${d.vertexCount} vertices; ${part.name} has ${vertexCountOf(part)}.`,
      "sculpt",
      "Sculpt it again: it was stored without its surface.",
    );
  const { vertices, deltas, farthest } = carryPoints(
    part.positions,
    d.points,
    d.deltas,
    { triangles: d.triangles, bvh: buildBvh(d.triangles, d.points) },
    REACH,
    true,
  );
  if (!vertices.length)
    throw new UserError(
      `Nothing of ${part.name} lies near the surface it was sculpted on.`,
      "sculpt",
      "Sculpt it again.",
    );
  return { delta: { part: index, vertices, deltas }, farthest };
}
