import { MeshoptSimplifier } from "meshoptimizer/simplifier";
import { eyeballsOf } from "../../measure/eyeballs";
import { faceArea } from "../../measure/faceArea";
import {
  faceCountOf,
  isDriven,
  triangleCountOf,
  triangulate,
  type Character,
  type Part,
  type PartKind,
  type Shape,
} from "../../model/character";
import { nonManifoldOf } from "../../surface/nonManifold";
import { mendFaces } from "../mend/mendFaces";
import { untold, type ShareDone } from "../../model/shareDone";
import { UserError } from "../../model/userError";
import { carryMovement } from "../../surface/carryMovement";
import { withoutShape } from "../../model/withoutShape";
import { splitCharacter } from "../../model/drawnPart";
import { facesOf, renumberShapes, withFaces, type Refaced } from "../../model/withFaces";
import { poseDriven } from "../../model/drivenShapes";

export interface Reduction {
  readonly character: Character;
  readonly trianglesBefore: number;
  readonly trianglesAfter: number;
}

// the simplifier is compiled once, when this is loaded
await MeshoptSimplifier.ready;

/**
 * Mixes of the shapes' movements that count as attributes of the surface, so that places which move apart are not
 * merged.
 */
const SHAPE_MIXES = 4;
/** A movement of this length weighs as much as the same distance on the surface, metres. */
const SHAPE_WEIGHT = 4;
const NORMAL_WEIGHT = 0.004;
/** Lids within this many radii of an eyeball's centre keep every vertex: a coarser lid would cut into the eye. */
const LID_REACH = 1.7;
/** How much of the budget a part's triangles may claim beside the others': what is looked at gives less away. */
const CLAIM: Readonly<Record<PartKind, number>> = {
  body: 1.9,
  eye: 0.9,
  lash: 1,
  "tear line": 1,
  teeth: 0.45,
  tongue: 1.3,
  hair: 0.5,
  brow: 1,
  garment: 0.5,
  other: 0.6,
};
/** Skin that a shape moves farther than this keeps every vertex, metres. */
const PLAY = 0.0015;
/** Triangles less high than this are slivers that a collapse left behind, metres. */
const SLIVER = 1e-4;
/** Below this a part is not made coarser: its outline would go. */
const LEAST_TRIANGLES = 48;

/** Rounds that fitting into a budget takes at the most, and what of the work they are when the last one fits. */
const ROUNDS = 12;
const COLLAPSED = 0.7;

/**
 * Fewer triangles for the whole character by collapsing edges (Garland & Heckbert 1997, "Surface simplification using
 * quadric error metrics", with attributes as in Hoppe 1999), computed by meshoptimizer. Vertices are only left out,
 * never moved: weights, colours and shapes stay exactly what they were at those that remain. Polygons that lose a
 * corner become triangles. Open borders are kept; lids and what the shapes move are not touched.
 * @param budget triangles of the whole character.
 * @throws UserError when the budget cannot be reached without touching what is protected.
 */
export function reduceCharacter(whole: Character, budget: number, tell: ShareDone = untold): Reduction {
  const before = whole.parts.map(triangleCountOf);
  const total = before.reduce((a, b) => a + b, 0);
  if (total <= budget) return { character: whole, trianglesBefore: total, trianglesAfter: total };
  // seams and hard edges are borders to keep: their vertices stand apart from here on
  const character = splitCharacter(whole);
  // proportions move all of the skin, smoothly: they ask for no vertex of their own
  const played = character.shapes.filter((s) => !isDriven(character, s.name) && !s.jointOffsets);
  const locks = character.parts.map((part, p) => lockedVertices(character, part, p, played));
  let share = budget / total;
  let refaced: Refaced[] = [];
  // what is protected takes its part of the budget from the rest: ask for a little less until the sum fits
  for (let round = 0; round < ROUNDS; round++) {
    tell(COLLAPSED * (1 - 0.6 ** round));
    refaced = character.parts.map((part, p) =>
      reducePart(
        part,
        shapeMixes(played, p, part),
        locks[p]!,
        Math.max(LEAST_TRIANGLES, Math.floor(Math.min(1, share * CLAIM[part.kind]) * before[p]!)),
      ),
    );
    const after = refaced.reduce((sum, r) => sum + triangleCountOf(r.part), 0);
    if (after <= budget) {
      tell(COLLAPSED);
      const shapes = renumberShapes(
        character.shapes,
        refaced.map((r) => r.newFromOld),
      );
      const reduced = partedAgain(character, { ...character, parts: refaced.map((r) => r.part), shapes });
      return { character: carriedAgain(reduced), trianglesBefore: total, trianglesAfter: after };
    }
    share *= Math.min(0.95, budget / after);
  }
  const least = refaced.reduce((sum, r) => sum + triangleCountOf(r.part), 0);
  throw new UserError(
    `The character cannot be brought under ${budget} triangles; ${least} remain.`,
    character.name,
    "Leave out parts that are not seen, or allow more.",
  );
}

/** Surfaces that only came to touch by losing vertices are parted again. */
function partedAgain(before: Character, after: Character): Character {
  const ill = (c: Character): ReadonlySet<string> =>
    new Set(
      c.parts.flatMap((part) => {
        const { edgeCount, pinched } = nonManifoldOf(part);
        return edgeCount + pinched.length > 0 ? [part.name] : [];
      }),
    );
  const known = ill(before);
  let now = after;
  for (let round = 0; round < 4; round++) {
    const names = [...ill(now)].filter((name) => !known.has(name));
    if (names.length === 0) break;
    now = names.reduce((c, name) => mendFaces(c, name, "non-manifold"), now);
  }
  return now;
}

/**
 * Cloth over a joint follows the coarser skin: what correctives do to it is taken from that skin anew. A corrective
 * with no vertex left to move goes.
 */
function carriedAgain(reduced: Character): Character {
  const idle = reduced.shapes
    .filter((s) => s.deltas.length === 0 && poseDriven(reduced).has(s.name))
    .map((s) => s.name);
  const character = idle.reduce(withoutShape, reduced);
  const body = character.parts.findIndex((p) => p.kind === "body");
  const shapes = character.shapes.map((shape): Shape => {
    const skin = shape.deltas.find((d) => d.part === body);
    if (!skin || !poseDriven(character).has(shape.name)) return shape;
    return {
      ...shape,
      deltas: shape.deltas.flatMap((d) =>
        character.parts[d.part]!.kind === "garment" ? (carryMovement(character, d.part, skin) ?? []) : [d],
      ),
    };
  });
  return { ...character, shapes };
}

/** 1 for vertices that must stay: lids, and skin that shapes move far, which carries the face's play. */
function lockedVertices(character: Character, part: Part, index: number, played: readonly Shape[]): Uint8Array {
  const locked = new Uint8Array(part.positions.length / 3);
  if (part.kind === "tongue" || part.kind === "body")
    for (const shape of played) {
      const delta = shape.deltas.find((d) => d.part === index);
      delta?.vertices.forEach((v, k) => {
        if (Math.hypot(delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!) > PLAY) locked[v] = 1;
      });
    }
  if (part.kind !== "body") return locked;
  for (const eye of eyeballsOf(character))
    for (let v = 0; v < locked.length; v++)
      if (
        Math.hypot(
          part.positions[3 * v]! - eye.centre[0],
          part.positions[3 * v + 1]! - eye.centre[1],
          part.positions[3 * v + 2]! - eye.centre[2],
        ) <
        LID_REACH * eye.radius
      )
        locked[v] = 1;
  return locked;
}

/** Sums of the shapes' movements with signs that differ from mix to mix: 3 x SHAPE_MIXES numbers a vertex. */
function shapeMixes(shapes: readonly Shape[], partIndex: number, part: Part): Float32Array {
  const width = 3 * SHAPE_MIXES;
  const out = new Float32Array((part.positions.length / 3) * width);
  shapes.forEach((shape, s) => {
    const delta = shape.deltas.find((d) => d.part === partIndex);
    if (!delta) return;
    for (let m = 0; m < SHAPE_MIXES; m++) {
      const sign = (s >> m) & 1 ? 1 : -1;
      delta.vertices.forEach((v, k) => {
        for (let c = 0; c < 3; c++) out[width * v + 3 * m + c]! += sign * delta.deltas[3 * k + c]!;
      });
    }
  });
  return out;
}

function reducePart(part: Part, mixes: Float32Array, locked: Uint8Array, target: number): Refaced {
  const { triangles } = triangulate(part);
  const groupOfVertex = new Uint16Array(part.positions.length / 3);
  part.groups.forEach((g, i) => {
    for (let k = part.faceStarts[g.faceStart]!; k < part.faceStarts[g.faceStart + g.faceCount]!; k++)
      groupOfVertex[part.corners[k]!] = i;
  });
  const faces = (list: ArrayLike<number>): number[][] =>
    Array.from({ length: list.length / 3 }, (_, t) => [list[3 * t]!, list[3 * t + 1]!, list[3 * t + 2]!]);
  if (target * 3 >= triangles.length || locked.every((l) => l === 1)) return withFaces(part, facesOf(part));
  const normals = vertexNormals(part.positions, triangles);
  const width = 3 + 3 * SHAPE_MIXES;
  const attributes = new Float32Array((part.positions.length / 3) * width);
  for (let v = 0; v < part.positions.length / 3; v++) {
    attributes.set(normals.subarray(3 * v, 3 * v + 3), width * v);
    attributes.set(mixes.subarray(3 * SHAPE_MIXES * v, 3 * SHAPE_MIXES * (v + 1)), width * v + 3);
  }
  const weights = [...Array<number>(3).fill(NORMAL_WEIGHT), ...Array<number>(3 * SHAPE_MIXES).fill(SHAPE_WEIGHT)];
  const [kept] = MeshoptSimplifier.simplifyWithAttributes(
    triangles,
    part.positions,
    3,
    attributes,
    width,
    weights,
    locked,
    3 * target,
    1,
    part.kind === "brow" ? ["ErrorAbsolute"] : ["LockBorder", "ErrorAbsolute"],
  );
  const list = polygonsAgain(part, faces(kept));
  // a face belongs to the group that most of its corners had
  return withFaces(
    part,
    list.map((corners) => ({ corners, from: -1 })),
    (f) => {
      const groups = list[f]!.map((v) => groupOfVertex[v]!);
      return groups.reduce((best, g) =>
        groups.filter((x) => x === g).length > groups.filter((x) => x === best).length ? g : best,
      );
    },
  );
}

/** Polygons of which every triangle is still there stay polygons; the rest stay triangles. */
function polygonsAgain(part: Part, triangles: readonly number[][]): number[][] {
  const key = (t: readonly number[]): string => [...t].sort((a, b) => a - b).join();
  const left = new Map(triangles.map((t) => [key(t), t]));
  const out: number[][] = [];
  for (let f = 0; f < faceCountOf(part); f++) {
    const polygon = Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!));
    if (polygon.length < 4) continue;
    const fan = Array.from({ length: polygon.length - 2 }, (_, k) =>
      key([polygon[0]!, polygon[k + 1]!, polygon[k + 2]!]),
    );
    if (!fan.every((k) => left.has(k))) continue;
    for (const k of fan) left.delete(k);
    out.push(polygon);
  }
  return [...out, ...[...left.values()].filter((t) => heightOf(part.positions, t) > SLIVER)];
}

/** Smallest height of a triangle. */
function heightOf(P: Float32Array, triangle: readonly number[]): number {
  const side = (k: number): number =>
    Math.hypot(...[0, 1, 2].map((c) => P[3 * triangle[(k + 1) % 3]! + c]! - P[3 * triangle[k]! + c]!));
  const longest = Math.max(side(0), side(1), side(2));
  return longest > 0 ? (2 * faceArea(P, triangle)) / longest : 0;
}

/** Area-weighted vertex normals. */
function vertexNormals(P: Float32Array, triangles: Uint32Array): Float32Array {
  const out = new Float32Array(P.length);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!];
    const u = [0, 1, 2].map((k) => P[b + k]! - P[a + k]!);
    const v = [0, 1, 2].map((k) => P[c + k]! - P[a + k]!);
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    for (const o of [a, b, c]) for (let k = 0; k < 3; k++) out[o + k]! += n[k]!;
  }
  for (let i = 0; i < out.length; i += 3) {
    const l = Math.hypot(out[i]!, out[i + 1]!, out[i + 2]!) || 1;
    for (let k = 0; k < 3; k++) out[i + k]! /= l;
  }
  return out;
}
