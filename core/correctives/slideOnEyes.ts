import type { Eyeball } from "../measure/eyeballs";
import type { Sketch, StrokeRecord } from "./sketch";

/** Height over the eyeball that skin keeps under the brush, metres: faces between vertices sag a little. */
const CLEARANCE = 0.0004;

/**
 * Lets the skin that a dab pushed into an eyeball slide on it: what would lie inside goes out along the ray from the
 * eye's centre. Skin that is folded into the socket at rest
 * is left alone. The eyeballs are those at rest: they go with the head, and the sketch is rest-space movement.
 * @param record vertices of the stroke, as dabSketch keeps it: only these are looked at, and only their movement
 * changes.
 */
export function slideOnEyes(sketch: Sketch, eyes: readonly Eyeball[], record: StrokeRecord): void {
  const P = sketch.rig.character.parts[sketch.part]!.positions;
  const { deltas, weight } = sketch;
  for (const v of record.keys())
    for (const { centre, radius } of eyes) {
      const rest = [0, 1, 2].map((c) => P[3 * v + c]! - centre[c]!);
      const restHeight = Math.hypot(...rest) - radius;
      if (restHeight < 0 || restHeight > radius) continue;
      const now = rest.map((x, c) => x + weight * deltas[3 * v + c]!);
      const far = Math.hypot(...now);
      const least = radius + Math.min(CLEARANCE, restHeight);
      if (far >= least || far < 1e-6) continue;
      for (let c = 0; c < 3; c++) deltas[3 * v + c]! += ((least / far - 1) * now[c]!) / weight;
    }
}
