import type { ShapeDelta } from "../../model/character";
import { neighboursOf, type Neighbours } from "../../model/neighbours";
import { percentile } from "../../measure/edgeStretch";
import { finding, type Check, type Finding } from "../finding";

/** Vertices that move less than this take no part, metres. */
const STILL = 1e-4;

/** Spacing of vertices up to which the limit holds as it stands, metres. */
const FINE = 0.008;

/**
 * Noise of a movement, mm per moving vertex. A vertex is off by its movement less the mean of its neighbours'; a crease
 * or a lip's edge makes whole rows of vertices off the same way, noise makes neighbours off in opposite ways. Only the
 * part against the neighbours counts. A smooth movement's difference from its neighbours' mean grows with the square of
 * their distance: wider meshes are forgiven by that much. Rejected: the plain difference from the neighbours' mean,
 * which cannot tell the brow's wrinkles (1.3 mm here) from noise.
 */
export function noiseOf(
  delta: ShapeDelta,
  { start, list }: Neighbours,
  P: Float32Array,
): { vertex: number; mm: number }[] {
  const count = start.length - 1;
  const moves = new Float64Array(3 * count);
  const { vertices, deltas } = delta;
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const at = 3 * vertices[k]!;
    moves[at] = deltas[i]!;
    moves[at + 1] = deltas[i + 1]!;
    moves[at + 2] = deltas[i + 2]!;
  }
  const meanAround = (values: Float64Array, v: number, c: number): number => {
    let sum = 0;
    for (let i = start[v]!; i < start[v + 1]!; i++) sum += values[3 * list[i]! + c]!;
    return start[v + 1]! > start[v]! ? sum / (start[v + 1]! - start[v]!) : values[3 * v + c]!;
  };
  const off = new Float64Array(3 * count);
  const near = new Uint8Array(count);
  for (const v of delta.vertices) {
    near[v] = 1;
    for (let i = start[v]!; i < start[v + 1]!; i++) near[list[i]!] = 1;
  }
  for (let v = 0; v < count; v++)
    if (near[v]) for (let c = 0; c < 3; c++) off[3 * v + c] = moves[3 * v + c]! - meanAround(moves, v, c);
  return Array.from(delta.vertices).flatMap((v) => {
    const [mx, my, mz] = [moves[3 * v]!, moves[3 * v + 1]!, moves[3 * v + 2]!];
    if (mx * mx + my * my + mz * mz < STILL * STILL) return [];
    const own = Math.hypot(off[3 * v]!, off[3 * v + 1]!, off[3 * v + 2]!);
    let along = 0;
    for (let c = 0; c < 3; c++) along += off[3 * v + c]! * meanAround(off, v, c);
    let apart = 0;
    for (let i = start[v]!; i < start[v + 1]!; i++) {
      const at = 3 * list[i]!;
      const [x, y, z] = [P[at]! - P[3 * v]!, P[at + 1]! - P[3 * v + 1]!, P[at + 2]! - P[3 * v + 2]!];
      apart += Math.sqrt(x * x + y * y + z * z) / (start[v + 1]! - start[v]!);
    }
    const forgiven = Math.min(1, (FINE / Math.max(1e-9, apart)) ** 2);
    return [{ vertex: v, mm: own > 0 && along < 0 ? 1000 * forgiven * Math.min(own, -along / own) : 0 }];
  });
}

/** Shapes whose movement jumps from vertex to vertex. */
export const shapesNoise: Check = {
  id: "shapes.noise",
  title: "Noise in a shape",
  unit: "mm",
  source: "our own choice: 95th percentile, 0.3 mm",
  run: (character, { profile }) => {
    const limit = profile.limits["shapes.noise"];
    if (limit === null) return [];
    const out: Finding[] = [];
    for (const shape of character.shapes)
      for (const delta of shape.deltas) {
        const part = character.parts[delta.part]!;
        if (part.kind !== "body") continue;
        const rough = noiseOf(delta, neighboursOf(part), part.positions);
        if (rough.length < 20) continue;
        const value = percentile(
          rough.map((r) => r.mm),
          0.95,
        );
        if (value <= limit) continue;
        rough.sort((a, b) => b.mm - a.mm || a.vertex - b.vertex);
        out.push(
          finding({
            check: "shapes.noise",
            severity: "warn",
            shape: shape.name,
            part: part.name,
            vertices: rough.map((r) => r.vertex),
            value,
            unit: "mm",
            limit,
            message:
              `${shape.label} is noisy: one vertex in twenty is ${value.toFixed(2)} ` +
              "mm off against its neighbours. Smooth the shape's movement.",
          }),
        );
      }
    return out;
  },
};
