import { drawnNormals } from "../../deform/placeNormals";
import { toSrgb } from "../../math/srgb";
import { faceCountOf, vertexCountOf, type Character, type Part } from "../../model/character";
import { cornerLookOf, groupOfEachFace } from "../../model/cornerLook";
import { drawnPart, withCopies } from "../../model/drawnPart";
import type { ObjFile } from "./readObj";
import { keptEdgeShare, SAME_ORDER_SHARE } from "./readObj";
import { UserError } from "../../model/userError";

/** Shortest decimal that reads back as the same 32-bit float. */
const decimal = (x: number): string => {
  for (let digits = 6; digits < 9; digits++) {
    const s = x.toPrecision(digits);
    if (Math.fround(Number(s)) === x) return String(Number(s));
  }
  return String(Number(x.toPrecision(9)));
};

export const lineName = (name: string): string => name.replace(/\s+/g, "_") || "unnamed";

/**
 * Writes all parts one after the other, vertices and polygons in file order, with every texture coordinate of a seam.
 * Hard edges are written as smoothing groups, and as normals where faces alone cannot tell them.
 * @param positions per part, 3 x vertexCount, metres: bind positions or a posed moment.
 * @param library name of the material library that stands beside it. @param note one line more for the head, without a
 * break.
 */
export function writeObj(
  character: Character,
  positions: readonly Float32Array[],
  library?: string,
  note?: string,
): string {
  const lines = [`# ${character.name.replace(/\s+/g, " ")}: ${character.parts.length} parts, metres, +Y up`];
  if (note) lines.push(`# ${note}`);
  if (library) lines.push(`mtllib ${library}`);
  const seen = { v: 1, vt: 1, vn: 1 };
  character.parts.forEach((part, p) => {
    lines.push(`o ${lineName(part.name)}`);
    lines.push(...(part.colors ? coloured(rowsOf("v", positions[p]!, 3), part.colors) : rowsOf("v", positions[p]!, 3)));
    const texture = textureRows(part);
    if (texture) lines.push(...rowsOf("vt", texture.rows, 2));
    const smoothing = groupOfEachFace(part);
    const normals =
      smoothing || !(cornerLookOf(part)?.groups || part.smooth) ? null : cornerNormals(part, positions[p]!);
    if (normals) lines.push(...rowsOf("vn", normals.rows, 3));
    let group = -1;
    const faces = (from: number, count: number): void => {
      for (let f = from; f < from + count; f++) {
        if (smoothing && smoothing[f] !== group) lines.push(`s ${(group = smoothing[f]!) || "off"}`);
        const words: string[] = [];
        for (let k = part.faceStarts[f]!; k < part.faceStarts[f + 1]!; k++) {
          const t = texture ? seen.vt + texture.at[k]! : "";
          words.push(
            `${part.corners[k]! + seen.v}${normals ? `/${t}/${seen.vn + normals.at[k]!}` : texture ? `/${t}` : ""}`,
          );
        }
        lines.push(`f ${words.join(" ")}`);
      }
    };
    if (part.groups.length === 0) faces(0, faceCountOf(part));
    for (const g of part.groups) {
      if (g.name) lines.push(`g ${g.name}`);
      lines.push(`usemtl ${lineName(character.materials[g.material]?.name ?? "default")}`);
      faces(g.faceStart, g.faceCount);
    }
    seen.v += vertexCountOf(part);
    seen.vt += (texture?.rows.length ?? 0) / 2;
    seen.vn += (normals?.rows.length ?? 0) / 3;
  });
  return `${lines.join("\n")}\n`;
}

const rowsOf = (word: string, values: ArrayLike<number>, size: number): string[] =>
  Array.from(
    { length: values.length / size },
    (_, r) => `${word} ${Array.from({ length: size }, (_, c) => decimal(values[size * r + c]!)).join(" ")}`,
  );

const coloured = (rows: readonly string[], colors: Float32Array): string[] =>
  rows.map((row, v) => `${row} ${[0, 1, 2].map((c) => Number(toSrgb(colors[4 * v + c]!).toFixed(6))).join(" ")}`);

/** Rows of a list that corners point into. */
interface CornerRows {
  readonly rows: Float32Array;
  readonly at: ArrayLike<number>;
}

/** Texture coordinates, each once; V counts from the bottom. */
function textureRows(part: Part): CornerRows | null {
  if (!part.uvs) return null;
  const upright = (uvs: Float32Array): Float32Array => uvs.map((x, i) => (i % 2 ? Math.fround(1 - x) : x));
  const ofCorners = cornerLookOf(part)?.uvs;
  if (!ofCorners) return { rows: upright(part.uvs), at: part.corners };
  const known = new Map<string, number>();
  const rows: number[] = [];
  const at = Array.from(part.corners, (_, k) => {
    const [u, v] = [ofCorners[2 * k]!, ofCorners[2 * k + 1]!];
    const key = `${u} ${v}`;
    if (!known.has(key)) known.set(key, rows.push(u, v) / 2 - 1);
    return known.get(key)!;
  });
  return { rows: upright(Float32Array.from(rows)), at };
}

/** Normals of the drawn vertices at the given places. */
function cornerNormals(whole: Part, positions: Float32Array): CornerRows {
  const { part, copies } = drawnPart(whole, "normals");
  const drawn = new Float32Array(part.positions.length);
  withCopies(positions, copies, 3, drawn);
  return { rows: drawnNormals(part)(drawn), at: part.corners };
}

/**
 * Matches a sculpted OBJ to the parts it was sent out from: all parts at once, or one part alone, by vertex count and
 * edge lengths.
 * @param posed per part, the positions that were sent out.
 * @returns per part the sculpted positions, or null for parts the file does not hold.
 */
export function matchSculpt(
  character: Character,
  posed: readonly Float32Array[],
  sculpt: ObjFile,
  file: string,
): (Float32Array | null)[] {
  const count = sculpt.positions.length / 3;
  const total = character.parts.reduce((n, p) => n + vertexCountOf(p), 0);
  const check = (p: number, positions: Float32Array): number =>
    keptEdgeShare(character.parts[p]!.corners, character.parts[p]!.faceStarts, posed[p]!, positions);
  const refuse = (share: number, what: string): never => {
    throw new UserError(
      `Its vertices are not those of ${what}: ${Math.round(100 * share)} % of the edges keep their length.`,
      file,
      "Sculpt the mesh that was sent out in this pose, with vertex order kept.",
    );
  };
  if (count === total) {
    let start = 0;
    return character.parts.map((part, p) => {
      const own = sculpt.positions.slice(3 * start, 3 * (start + vertexCountOf(part)));
      start += vertexCountOf(part);
      const share = check(p, own);
      if (share < SAME_ORDER_SHARE) refuse(share, `part ${part.name}`);
      return own;
    });
  }
  const fitting = character.parts.map((_, p) => p).filter((p) => vertexCountOf(character.parts[p]!) === count);
  const best = fitting.map((p) => ({ p, share: check(p, sculpt.positions) })).sort((a, b) => b.share - a.share)[0];
  if (!best)
    throw new UserError(
      `It has ${count} vertices; the posed character has ${total}, and no single part has ${count}.`,
      file,
      "Send the posed mesh out again and sculpt it without adding or removing vertices.",
    );
  if (best.share < SAME_ORDER_SHARE) refuse(best.share, `part ${character.parts[best.p]!.name}`);
  return character.parts.map((_, p) => (p === best.p ? sculpt.positions : null));
}
