import { movedBy } from "../model/movedBy";
import type { Rig } from "../deform/rig";
import { percentile } from "./edgeStretch";
import type { Tick } from "./sweepMotion";
import type { Shape } from "../model/character";

/** What one shape at full does to the surface. */
export interface ShapeReading {
  readonly shape: string;
  /** Largest movement, mm. */
  readonly maxMm: number;
  /** 99th percentile of edge length over rest length, over the edges the shape moves. */
  readonly stretch: number;
  /** Number of vertices it moves, all parts. */
  readonly vertices: number;
}

export async function measureShapes(rig: Rig, tick: Tick = () => {}): Promise<ShapeReading[]> {
  const { character } = rig;
  const out: ShapeReading[] = [];
  for (const [i, shape] of character.shapes.entries()) {
    await tick(i, character.shapes.length);
    const ratios: number[] = [];
    for (const delta of shape.deltas) {
      const part = character.parts[delta.part]!;
      const { moved, touched } = movedBy(part, delta);
      for (let f = 0; f + 1 < part.faceStarts.length; f++)
        for (let k = part.faceStarts[f]!, end = part.faceStarts[f + 1]!; k < end; k++) {
          const a = part.corners[k]!;
          const b = part.corners[k + 1 < end ? k + 1 : part.faceStarts[f]!]!;
          if (!touched[a] && !touched[b]) continue;
          const l = (P: Float32Array): number =>
            Math.hypot(P[3 * a]! - P[3 * b]!, P[3 * a + 1]! - P[3 * b + 1]!, P[3 * a + 2]! - P[3 * b + 2]!);
          const l0 = l(part.positions);
          if (l0 > 1e-6) ratios.push(l(moved) / l0);
        }
    }
    out.push({
      shape: shape.name,
      maxMm: maxDeltaMm(shape),
      stretch: ratios.length ? percentile(ratios, 0.99) : 1,
      vertices: shape.deltas.reduce((n, d) => n + d.vertices.length, 0),
    });
  }
  await tick(character.shapes.length, character.shapes.length);
  return out;
}
/** Largest movement of a shape, mm. */
export function maxDeltaMm(shape: Shape): number {
  let max = 0;
  for (const { deltas } of shape.deltas)
    for (let i = 0; i < deltas.length; i += 3)
      max = Math.max(max, deltas[i]! ** 2 + deltas[i + 1]! ** 2 + deltas[i + 2]! ** 2);
  return 1000 * Math.sqrt(max);
}
