import { faceCountOf, type Character, type Part } from "./character";
import { cornerLookOf } from "./cornerLook";
import { duplicateMovement, duplicateVertices } from "./duplicateVertices";
import { placesOf } from "./places";

/** A part as it is drawn and as glTF holds it: one normal and one texture coordinate a vertex. */
export interface DrawnPart {
  /** Without corner look: its copies stand behind the part's own vertices. */
  readonly part: Part;
  /** The vertex behind each copy. */
  readonly copies: Uint32Array;
}

const NONE = new Uint32Array(0);

/**
 * Splits vertices that show several normals or texture coordinates; what one vertex shows first stays at it, the
 * others become copies behind all vertices.
 * @param by "normals" for drawing without textures, "all" for files.
 */
export function drawnPart(whole: Part, by: "normals" | "all"): DrawnPart {
  const look = cornerLookOf(whole);
  const { cornerLook, ...part } = whole;
  if (!look) return { part, copies: NONE };
  const { groups } = look;
  const uvs = by === "all" ? look.uvs : null;
  const vertexCount = part.positions.length / 3;
  // drawn vertices of one vertex hang on each other: first at it, then its copies
  const next: number[] = Array<number>(vertexCount).fill(-1);
  const groupOf: number[] = Array<number>(vertexCount).fill(-1);
  const uvOf: number[] = Array<number>(2 * vertexCount).fill(0);
  const faceOf: number[] = Array<number>(vertexCount).fill(-1);
  const copies: number[] = [];
  const corners = part.corners.slice();
  for (let f = 0; f < faceCountOf(part); f++)
    for (let k = part.faceStarts[f]!; k < part.faceStarts[f + 1]!; k++) {
      const v = part.corners[k]!;
      const group = groups?.[k] ?? 1;
      const same = (d: number): boolean =>
        groupOf[d] === group &&
        (group !== 0 || faceOf[d] === f) &&
        (!uvs || (uvOf[2 * d] === uvs[2 * k] && uvOf[2 * d + 1] === uvs[2 * k + 1]));
      const set = (d: number): void => {
        groupOf[d] = group;
        faceOf[d] = f;
        if (uvs) [uvOf[2 * d], uvOf[2 * d + 1]] = [uvs[2 * k]!, uvs[2 * k + 1]!];
      };
      if (groupOf[v] === -1) set(v);
      let d = v;
      while (!same(d) && next[d]! >= 0) d = next[d]!;
      if (!same(d)) {
        const made = vertexCount + copies.length;
        next[d] = made;
        next[made] = -1;
        copies.push(v);
        set((d = made));
      }
      corners[k] = d;
    }
  const grown = copies.length
    ? duplicateVertices(
        part,
        copies,
        copies.flatMap((v) => Array.from(part.positions.subarray(3 * v, 3 * v + 3))),
      )
    : part;
  const out: Part = { ...grown, corners, ...(uvs ? { uvs: Float32Array.from(uvOf) } : {}) };
  if (!groups) return { part: out, copies: Uint32Array.from(copies) };
  const smooth = sharedNormals(placesOf(out.positions), groupOf);
  return { part: { ...out, ...(smooth ? { smooth } : {}) }, copies: Uint32Array.from(copies) };
}

/** For each drawn vertex the lowest one at its place with the same group; undefined where no edge is hard. */
function sharedNormals(places: Uint32Array, groupOf: readonly number[]): Uint32Array | undefined {
  const first = new Map<string, number>();
  const smooth = places.map((place, d) => {
    const group = groupOf[d]!;
    if (group === 0) return d;
    const key = `${place} ${group}`;
    if (!first.has(key)) first.set(key, d);
    return first.get(key)!;
  });
  return smooth.some((s, d) => s !== places[d]) ? smooth : undefined;
}

/** Rows of the copies written behind those of the vertices. @param rows as many numbers a vertex as `size`. */
export function withCopies(rows: Float32Array, copies: Uint32Array, size: number, out: Float32Array): void {
  out.set(rows);
  copies.forEach((v, i) => out.copyWithin(rows.length + size * i, size * v, size * v + size));
}

/**
 * The character with every part split as files hold it; shapes move the copies along. With the vertex behind each copy,
 * per part.
 */
export function drawnCharacter(character: Character): { character: Character; copies: readonly Uint32Array[] } {
  const drawn = character.parts.map((p) => drawnPart(p, "all"));
  const copies = drawn.map((d) => d.copies);
  if (!character.parts.some((p) => p.cornerLook)) return { character, copies };
  const carried = (shapes: Character["shapes"]): Character["shapes"] =>
    drawn.reduce(
      (all, d, p) =>
        d.copies.length
          ? duplicateMovement(all, p, Array.from(d.copies), character.parts[p]!.positions.length / 3)
          : all,
      shapes,
    );
  return {
    copies,
    character: {
      ...character,
      parts: drawn.map((d) => d.part),
      shapes: carried(character.shapes),
      ...(character.setAside ? { setAside: carried(character.setAside) } : {}),
    },
  };
}

export const splitCharacter = (character: Character): Character => drawnCharacter(character).character;
