import type { PlainMesh } from "../../core/formats/readPly";
import type { Character } from "../../core/model/character";

type Point = readonly [number, number, number];

/**
 * A made-up scan: the skin of a character that lies within a box, on another net (every face is parted into triangles
 * round its middle), in another place.
 * @param within which points of the skin are scanned. @param to where they go.
 */
export function scanOf(
  character: Character,
  within: (p: Point) => boolean,
  to: (p: Point) => Point = (p) => p,
): PlainMesh {
  const body = character.parts.find((p) => p.kind === "body")!;
  const at = (v: number): Point => [body.positions[3 * v]!, body.positions[3 * v + 1]!, body.positions[3 * v + 2]!];
  const row = new Map<number, number>();
  const points: number[] = [];
  const corners: number[] = [];
  const put = (p: Point): number => points.push(...to(p)) / 3 - 1;
  const vertex = (v: number): number => {
    if (!row.has(v)) row.set(v, put(at(v)));
    return row.get(v)!;
  };
  for (let f = 0; f + 1 < body.faceStarts.length; f++) {
    const own = Array.from(body.corners.subarray(body.faceStarts[f]!, body.faceStarts[f + 1]!));
    if (!own.every((v) => within(at(v)))) continue;
    const middle = put(
      [0, 1, 2].map((c) => own.reduce((sum, v) => sum + at(v)[c]! / own.length, 0)) as unknown as Point,
    );
    own.forEach((v, k) => corners.push(vertex(v), vertex(own[(k + 1) % own.length]!), middle));
  }
  return {
    positions: Float32Array.from(points),
    corners: Uint32Array.from(corners),
    faceStarts: Uint32Array.from({ length: corners.length / 3 + 1 }, (_, i) => 3 * i),
  };
}

export const objOf = (mesh: PlainMesh): string => {
  const lines: string[] = [];
  for (let i = 0; i < mesh.positions.length; i += 3)
    lines.push(`v ${[0, 1, 2].map((c) => mesh.positions[i + c]!.toFixed(5)).join(" ")}`);
  for (let f = 0; f + 1 < mesh.faceStarts.length; f++)
    lines.push(
      `f ${Array.from(mesh.corners.subarray(mesh.faceStarts[f]!, mesh.faceStarts[f + 1]!), (v) => v + 1).join(" ")}`,
    );
  return lines.join("\n");
};

/** Tarn's head as a scanner would bring it: of another net, in centimetres, Z up, somewhere on the table. */
export const headScan = (tarn: Character): PlainMesh =>
  scanOf(
    tarn,
    ([, y]) => y > 1.63,
    ([x, y, z]) => [100 * x + 20, -100 * z + 3, 100 * y - 90],
  );
