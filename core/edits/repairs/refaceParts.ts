import type { Character } from "../../model/character";
import type { NewFace } from "../../model/cornerLook";
import { facesOf, renumberShapes, withFaces } from "../../model/withFaces";
import { placesOf } from "../../model/places";
import { addPoint, makePointGrid, slotOf } from "../../model/pointGrid";
import { partNamed } from "../mend/places";

/** The character with a part made of other faces on its own vertices. */
export function refaced(character: Character, index: number, faces: readonly NewFace[]): Character {
  const made = withFaces(character.parts[index]!, faces);
  const maps = character.parts.map((_, i) => (i === index ? made.newFromOld : null));
  return {
    ...character,
    parts: character.parts.map((p, i) => (i === index ? made.part : p)),
    shapes: renumberShapes(character.shapes, maps),
    ...(character.setAside ? { setAside: renumberShapes(character.setAside, maps) } : {}),
  };
}

/** Every polygon of a part as a fan of triangles. */
export function triangulatePart(character: Character, name: string): Character {
  const { part, index } = partNamed(character, name);
  return refaced(
    character,
    index,
    facesOf(part).flatMap(({ corners: c, from }) =>
      Array.from({ length: c.length - 2 }, (_, k) => ({ corners: [c[0]!, c[k + 1]!, c[k + 2]!], from })),
    ),
  );
}

/** Texture coordinates and colours farther apart than this are a seam. */
const SEAM = 1e-4;
/** Movements farther apart than this are a seam too (lips that open), metres. */
const APART = 1e-5;

/**
 * Vertices of a part that stand at one place become one, the first of them; faces that lose a corner become smaller,
 * and those with fewer than three go. Seams and hard edges are kept: vertices whose texture coordinates, colours,
 * normals, main joint or movements differ stay apart. @param within metres.
 */
export function weldPart(character: Character, name: string, within: number): Character {
  const { part, index } = partNamed(character, name);
  const P = part.positions;
  const grid = makePointGrid(P.length / 3, 2 * within);
  const cell = (x: number): number => Math.floor(x / grid.cell);
  const signature = movementOf(character, index);
  const keeper = Uint32Array.from({ length: P.length / 3 }, (_, v) => v);
  const places = placesOf(P);
  const samePlace = (a: number, b: number): boolean => places[a] === places[b];
  const alike = (a: number, b: number): boolean => {
    if (Math.hypot(P[3 * a]! - P[3 * b]!, P[3 * a + 1]! - P[3 * b + 1]!, P[3 * a + 2]! - P[3 * b + 2]!) > within)
      return false;
    if (part.smooth && part.smooth[a] !== part.smooth[b] && samePlace(a, b)) return false;
    for (let c = 0; c < 2; c++)
      if (part.uvs && Math.abs(part.uvs[2 * a + c]! - part.uvs[2 * b + c]!) > SEAM) return false;
    for (let c = 0; c < 4; c++)
      if (part.colors && Math.abs(part.colors[4 * a + c]! - part.colors[4 * b + c]!) > SEAM) return false;
    for (let c = 0; c < 3; c++) if (Math.abs(signature[3 * a + c]! - signature[3 * b + c]!) > APART) return false;
    const { skin } = part;
    return !skin || skin.joints[skin.influenceCount * a] === skin.joints[skin.influenceCount * b];
  };
  for (let v = 0; v < keeper.length; v++) {
    const [x, y, z] = [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
    search: for (let i = cell(x - within); i <= cell(x + within); i++)
      for (let j = cell(y - within); j <= cell(y + within); j++)
        for (let k = cell(z - within); k <= cell(z + within); k++)
          for (let w = grid.heads[slotOf(grid, i, j, k)]!; w >= 0; w = grid.next[w]!)
            if (alike(w, v)) {
              keeper[v] = w;
              break search;
            }
    if (keeper[v] === v) addPoint(grid, slotOf(grid, cell(x), cell(y), cell(z)), v);
  }
  return refaced(
    character,
    index,
    facesOf(part).flatMap(({ corners, from }) => {
      const now = corners
        .map((v) => ({ v: keeper[v]!, was: v }))
        .filter((c, k, all) => all.findIndex((o) => o.v === c.v) === k);
      return now.length >= 3 ? [{ corners: now.map((c) => c.v), from, was: now.map((c) => c.was) }] : [];
    }),
  );
}

/**
 * Sum of the movements of each vertex under all shapes, each with a weight of its own: differs where any shape parts
 * two vertices.
 */
function movementOf(character: Character, part: number): Float64Array {
  const out = new Float64Array(character.parts[part]!.positions.length);
  character.shapes.forEach((shape, s) => {
    for (const d of shape.deltas)
      if (d.part === part)
        d.vertices.forEach((v, k) => {
          for (let c = 0; c < 3; c++) out[3 * v + c]! += (1 + (s % 7) / 7) * d.deltas[3 * k + c]!;
        });
  });
  return out;
}
