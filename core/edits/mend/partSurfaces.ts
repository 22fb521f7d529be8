import { meshEdges } from "../../surface/meshEdges";
import { faceVector } from "../../measure/faceArea";
import { vertexCountOf, type Character, type Part } from "../../model/character";
import { duplicateMovement, duplicateVertices } from "../../model/duplicateVertices";

/**
 * How far a copy steps back into its own piece of surface, metres: enough to be a place of its own, too little to see.
 */
const STEP = 2e-5;

/**
 * Faces that hang by nothing but an edge which others share. Of the faces at such an edge the two that go on into each
 * other most evenly are the surface; the rest are fins where they share no other edge with anything.
 */
export function finsOf(part: Part): Set<number> {
  const { facesOfEdge } = meshEdges(part);
  const holds = new Set([...facesOfEdge.values()].filter((faces) => faces.length === 2).flat());
  const fins = new Set<number>();
  for (const faces of facesOfEdge.values()) {
    if (faces.length < 3) continue;
    let surface: readonly number[] = [];
    let evenest = -Infinity;
    for (const a of faces)
      for (const b of faces) {
        if (a >= b) continue;
        const even = Math.abs(cosineBetween(vectorOf(part, a), vectorOf(part, b)));
        if (even > evenest) [evenest, surface] = [even, [a, b]];
      }
    for (const f of faces) if (!holds.has(f) && !surface.includes(f)) fins.add(f);
  }
  return fins;
}

const vectorOf = (part: Part, face: number): readonly number[] =>
  faceVector(part.positions, part.corners.subarray(part.faceStarts[face]!, part.faceStarts[face + 1]!));
const cosineBetween = (a: readonly number[], b: readonly number[]): number =>
  (a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!) / (Math.hypot(...a) * Math.hypot(...b) || 1);

/**
 * Gives every piece of surface that meets another only in an edge of three or more faces, or only in a point, vertices
 * of its own there.
 */
export function partSurfaces(character: Character, index: number): Character {
  const part = character.parts[index]!;
  const { place, facesOfEdge, key } = meshEdges(part);
  const cornersAt = new Map<number, { face: number; at: number }[]>();
  for (let f = 0; f + 1 < part.faceStarts.length; f++)
    for (let at = part.faceStarts[f]!; at < part.faceStarts[f + 1]!; at++) {
      const p = place[part.corners[at]!]!;
      const list = cornersAt.get(p);
      if (list) list.push({ face: f, at });
      else cornersAt.set(p, [{ face: f, at }]);
    }
  const corners = part.corners.slice();
  const from: number[] = [];
  const moved: number[] = [];
  for (const [p, list] of cornersAt) {
    const pieces = piecesAt(part, p, list, place, facesOfEdge, key);
    for (const piece of pieces.slice(1)) {
      const middle = [0, 1, 2].map((c) =>
        piece.reduce((sum, { face }) => sum + centreOf(part, face)[c]! / piece.length, 0),
      );
      const copies = new Map<number, number>();
      for (const { at } of piece) {
        const v = part.corners[at]!;
        if (!copies.has(v)) {
          copies.set(v, vertexCountOf(part) + from.length);
          const toward = middle.map((x, c) => x - part.positions[3 * v + c]!);
          const l = Math.hypot(...toward) || 1;
          from.push(v);
          moved.push(...toward.map((d, c) => part.positions[3 * v + c]! + (STEP * d) / l));
        }
        corners[at] = copies.get(v)!;
      }
    }
  }
  if (!from.length) return character;
  const grown = { ...duplicateVertices(part, from, moved), corners };
  return {
    ...character,
    parts: character.parts.map((x, i) => (i === index ? grown : x)),
    shapes: duplicateMovement(character.shapes, index, from, vertexCountOf(part)),
  };
}

type Corner = { face: number; at: number };

/** Corners at a place, grouped by faces that lead to each other over edges of exactly two faces. */
function piecesAt(
  part: Part,
  p: number,
  list: readonly Corner[],
  place: Uint32Array,
  facesOfEdge: ReadonlyMap<number, readonly number[]>,
  key: (a: number, b: number) => number,
): Corner[][] {
  const root = new Map(list.map(({ face }) => [face, face]));
  const find = (f: number): number => {
    for (let up = root.get(f)!; up !== f; up = root.get(f)!) {
      root.set(f, root.get(up)!); // shortens the way for the next one
      f = up;
    }
    return f;
  };
  for (const { face, at } of list) {
    const [s, e] = [part.faceStarts[face]!, part.faceStarts[face + 1]!];
    for (const next of [at + 1 < e ? at + 1 : s, at > s ? at - 1 : e - 1]) {
      const faces = facesOfEdge.get(key(p, place[part.corners[next]!]!)) ?? [];
      if (faces.length !== 2) continue;
      const [a, b] = faces as [number, number];
      if (root.has(a) && root.has(b)) root.set(find(a), find(b));
    }
  }
  const pieces = new Map<number, Corner[]>();
  for (const corner of list) pieces.set(find(corner.face), [...(pieces.get(find(corner.face)) ?? []), corner]);
  return [...pieces.values()].sort((a, b) => b.length - a.length);
}

function centreOf(part: Part, face: number): [number, number, number] {
  const [s, e] = [part.faceStarts[face]!, part.faceStarts[face + 1]!];
  const sum: [number, number, number] = [0, 0, 0];
  for (let at = s; at < e; at++)
    for (let c = 0; c < 3; c++) sum[c]! += part.positions[3 * part.corners[at]! + c]! / (e - s);
  return sum;
}
