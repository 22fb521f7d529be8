import { whileMoved } from "../model/movedBy";
import type { Rig } from "../deform/rig";
import { percentile } from "./edgeStretch";
import type { Tick } from "./sweepMotion";
import type { Part, Shape } from "../model/character";

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
      whileMoved(part, delta, (moved, touched) => pushRatios(part, moved, touched, ratios));
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
/** How much longer each edge at a touched vertex is than at rest. */
function pushRatios(part: Part, moved: Float32Array, touched: Uint8Array, into: number[]): void {
  const { corners, faceStarts, positions } = part;
  const long = (P: Float32Array, a: number, b: number): number => {
    const x = P[3 * a]! - P[3 * b]!;
    const y = P[3 * a + 1]! - P[3 * b + 1]!;
    const z = P[3 * a + 2]! - P[3 * b + 2]!;
    return Math.sqrt(x * x + y * y + z * z);
  };
  for (let f = 0; f + 1 < faceStarts.length; f++)
    for (let k = faceStarts[f]!, end = faceStarts[f + 1]!; k < end; k++) {
      const a = corners[k]!;
      const b = corners[k + 1 < end ? k + 1 : faceStarts[f]!]!;
      if (!touched[a] && !touched[b]) continue;
      const rest = long(positions, a, b);
      if (rest > 1e-6) into.push(long(moved, a, b) / rest);
    }
}

/** Largest movement of a shape, mm. */
export function maxDeltaMm(shape: Shape): number {
  let max = 0;
  for (const { deltas } of shape.deltas)
    for (let i = 0; i < deltas.length; i += 3)
      max = Math.max(max, deltas[i]! ** 2 + deltas[i + 1]! ** 2 + deltas[i + 2]! ** 2);
  return 1000 * Math.sqrt(max);
}
