import { faceCountOf, vertexCountOf, type Character } from "../../model/character";
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

const lineName = (name: string): string => name.replace(/\s+/g, "_") || "unnamed";

/**
 * Writes all parts one after the other, vertices and polygons in file order.
 * @param positions per part, 3 x vertexCount, metres: bind positions or a posed moment.
 */
export function writeObj(character: Character, positions: readonly Float32Array[]): string {
  const lines = [`# ${character.name.replace(/\s+/g, " ")}: ${character.parts.length} parts, metres, +Y up`];
  let offset = 1;
  character.parts.forEach((part, p) => {
    lines.push(`o ${lineName(part.name)}`);
    const P = positions[p]!;
    for (let i = 0; i < P.length; i += 3) lines.push(`v ${decimal(P[i]!)} ${decimal(P[i + 1]!)} ${decimal(P[i + 2]!)}`);
    if (part.uvs) for (let v = 0; v < vertexCountOf(part); v++) lines.push(`vt ${decimal(part.uvs[2 * v]!)} ${decimal(Math.fround(1 - part.uvs[2 * v + 1]!))}`);
    const faces = (from: number, count: number): void => {
      for (let f = from; f < from + count; f++) {
        const words: string[] = [];
        for (let k = part.faceStarts[f]!; k < part.faceStarts[f + 1]!; k++) words.push(String(part.corners[k]! + offset));
        lines.push(`f ${words.join(" ")}`);
      }
    };
    if (part.groups.length === 0) faces(0, faceCountOf(part));
    for (const g of part.groups) {
      if (g.name) lines.push(`g ${g.name}`);
      lines.push(`usemtl ${lineName(character.materials[g.material]?.name ?? "default")}`);
      faces(g.faceStart, g.faceCount);
    }
    offset += vertexCountOf(part);
  });
  return `${lines.join("\n")}\n`;
}

/**
 * Matches a sculpted OBJ to the parts it was sent out from: all parts at once, or one part alone, by vertex count and edge lengths.
 * @param posed per part, the positions that were sent out.
 * @returns per part the sculpted positions, or null for parts the file does not hold.
 */
export function matchSculpt(character: Character, posed: readonly Float32Array[], sculpt: ObjFile, file: string): (Float32Array | null)[] {
  const count = sculpt.positions.length / 3;
  const total = character.parts.reduce((n, p) => n + vertexCountOf(p), 0);
  const check = (p: number, positions: Float32Array): number => keptEdgeShare(character.parts[p]!.corners, character.parts[p]!.faceStarts, posed[p]!, positions);
  const refuse = (share: number, what: string): never => {
    throw new UserError(`Its vertices are not those of ${what}: ${Math.round(100 * share)} % of the edges keep their length.`, file, "Sculpt the mesh that was sent out in this pose, with vertex order kept.");
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
  if (!best) throw new UserError(`It has ${count} vertices; the posed character has ${total}, and no single part has ${count}.`, file, "Send the posed mesh out again and sculpt it without adding or removing vertices.");
  if (best.share < SAME_ORDER_SHARE) refuse(best.share, `part ${character.parts[best.p]!.name}`);
  return character.parts.map((_, p) => (p === best.p ? sculpt.positions : null));
}
