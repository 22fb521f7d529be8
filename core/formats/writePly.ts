import { faceCountOf, vertexCountOf, type Character } from "../model/character";

/** ASCII PLY of all parts at the given positions (metres), polygons kept. */
export function writePly(character: Character, positions: readonly Float32Array[]): string {
  const vertexCount = character.parts.reduce((n, p) => n + vertexCountOf(p), 0);
  const faceCount = character.parts.reduce((n, p) => n + faceCountOf(p), 0);
  const lines = [
    "ply",
    "format ascii 1.0",
    "comment metres, +Y up",
    `element vertex ${vertexCount}`,
    "property float x",
    "property float y",
    "property float z",
    `element face ${faceCount}`,
    "property list uchar int vertex_indices",
    "end_header",
  ];
  for (const P of positions) for (let i = 0; i < P.length; i += 3) lines.push(`${P[i]} ${P[i + 1]} ${P[i + 2]}`);
  let offset = 0;
  for (const part of character.parts) {
    for (let f = 0; f < faceCountOf(part); f++) {
      const corners = Array.from(
        part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!),
        (v) => v + offset,
      );
      lines.push(`${corners.length} ${corners.join(" ")}`);
    }
    offset += vertexCountOf(part);
  }
  return `${lines.join("\n")}\n`;
}
