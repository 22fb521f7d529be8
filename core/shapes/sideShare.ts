import type { ShapeDelta } from "../model/character";
import { smoothStep } from "../math/smoothStep";

/**
 * How much of a vertex's movement belongs to one side: all beyond the seam on its own side, nothing beyond it on the
 * other, smooth between. The shares of both sides add up to one everywhere.
 * @param x of the vertex, metres. @param seam half width of the seam, metres; 0 cuts hard, with the midline shared.
 */
export function sideShare(x: number, side: "left" | "right", seam: number): number {
  const towards = side === "left" ? x : -x;
  if (seam <= 0) return towards > 0 ? 1 : towards < 0 ? 0 : 0.5;
  return smoothStep((towards + seam) / (2 * seam));
}

/**
 * The half of a part's movement that belongs to one side. @param P positions of the part, metres. @returns null where
 * nothing is left.
 */
export function oneSide(delta: ShapeDelta, P: Float32Array, side: "left" | "right", seam: number): ShapeDelta | null {
  const share = (v: number): number => sideShare(P[3 * v]!, side, seam);
  const kept = Array.from(delta.vertices.keys()).filter((k) => share(delta.vertices[k]!) > 0);
  if (!kept.length) return null;
  return {
    part: delta.part,
    vertices: Uint32Array.from(kept, (k) => delta.vertices[k]!),
    deltas: Float32Array.from(
      kept.flatMap((k) => [0, 1, 2].map((c) => share(delta.vertices[k]!) * delta.deltas[3 * k + c]!)),
    ),
  };
}
