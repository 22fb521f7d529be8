import { allocateDeformed, type Deformed, type Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import { buildBvh, castRay, closestPoint, refitBvh, windingNumber, type Bvh } from "../math/bvh";
import { inverseSkin } from "./inverseSkin";
import { deformSketch, type Sketch, type StrokeRecord } from "./sketch";

/** Height over the teeth that skin keeps under the brush, metres: faces between vertices sag a little. */
const CLEARANCE = 0.0003;
/** Skin farther from the teeth than this before a dab does not lie on them, metres. */
const REACH = 0.012;

/** The teeth of a character as trees that are refitted to where they stand. */
export interface TeethContact {
  readonly rows: readonly { readonly part: number; readonly bvh: Bvh }[];
  readonly scratch: Deformed;
}

/** @returns null for a character without teeth. */
export function makeTeethContact(rig: Rig): TeethContact | null {
  const rows = rig.character.parts.flatMap((p, part) =>
    p.kind === "teeth" ? [{ part, bvh: buildBvh(rig.triangles[part]!, p.positions) }] : [],
  );
  return rows.length ? { rows, scratch: allocateDeformed(rig) } : null;
}

/** A place on a tooth, and the way out of it. */
interface Place {
  readonly at: readonly number[];
  readonly out: readonly number[];
}
function placeOn({ triangles }: Bvh, P: Float32Array, triangle: number, at: readonly number[]): Place {
  const [a, b, d] = [0, 1, 2].map((k) => 3 * triangles[3 * triangle + k]!) as [number, number, number];
  const [u, v] = [b, d].map((i) => [0, 1, 2].map((k) => P[i + k]! - P[a + k]!)) as [number[], number[]];
  const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
  const l = Math.hypot(...n) || 1;
  return { at, out: n.map((w) => w / l) };
}

/** Height of a point over the nearest tooth, metres, below zero inside, with that place; null beyond reach. */
function overTeeth(
  { rows }: TeethContact,
  positions: readonly Float32Array[],
  [x, y, z]: readonly [number, number, number],
): (Place & { height: number }) | null {
  let best: (Place & { height: number }) | null = null;
  for (const { part, bvh } of rows) {
    const P = positions[part]!;
    const c = closestPoint(bvh, P, x, y, z, best ? Math.abs(best.height) : REACH);
    if (c.triangle < 0) continue;
    const place = placeOn(bvh, P, c.triangle, [c.x, c.y, c.z]);
    // beside an edge the nearest face alone may say "behind" of a place that is outside
    const behind =
      (x - c.x) * place.out[0]! + (y - c.y) * place.out[1]! + (z - c.z) * place.out[2]! < 0 &&
      windingNumber(bvh, P, x, y, z) > 0.5;
    best = { ...place, height: behind ? -c.distance : c.distance };
  }
  return best;
}

/** Where a way from one point to another goes into a tooth first. */
function entry(
  { rows }: TeethContact,
  positions: readonly Float32Array[],
  from: readonly number[],
  to: readonly number[],
): Place | null {
  const way = to.map((x, c) => x - from[c]!);
  const length = Math.hypot(...way);
  if (length < 1e-7) return null;
  const d = way.map((x) => x / length || 1e-12);
  let found: Place | null = null;
  let first = length;
  for (const { part, bvh } of rows)
    castRay(bvh, positions[part]!, from[0]!, from[1]!, from[2]!, d[0]!, d[1]!, d[2]!, (triangle, distance, sign) => {
      if (sign > 0 || distance >= first) return;
      first = distance;
      found = placeOn(
        bvh,
        positions[part]!,
        triangle,
        from.map((x, c) => x + distance * d[c]!),
      );
    });
  return found;
}

/**
 * Lets the skin that a dab pushed into the teeth slide on them: what would lie inside goes out along the tooth's own
 * face, wherever the jaw stands. Skin that lay behind their surface before (gums, folds) is left alone.
 * @param shown the surface before the dab, with the teeth where they stand. @param record vertices of the stroke: only
 * these are looked at.
 */
export function slideOnTeeth(
  sketch: Sketch,
  moment: Moment,
  shown: Deformed,
  teeth: TeethContact,
  record: StrokeRecord,
): void {
  const { part, rig, deltas, weight } = sketch;
  for (const { part: row, bvh } of teeth.rows) refitBvh(bvh, shown.positions[row]!);
  const at = (P: Float32Array, v: number): [number, number, number] => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
  const before = shown.positions[part]!;
  const lying = [...record.keys()].flatMap((v) => {
    const over = overTeeth(teeth, shown.positions, at(before, v));
    return over && over.height >= 0 ? [{ v, height: over.height }] : [];
  });
  if (!lying.length) return;
  const now = deformSketch(sketch, moment, teeth.scratch, [part]).positions[part]!;
  const push = new Float32Array(before.length);
  let pushed = false;
  for (const { v, height } of lying) {
    const least = Math.min(CLEARANCE, height);
    const wanted = at(now, v);
    let to = wanted;
    const into = entry(teeth, shown.positions, at(before, v), wanted);
    if (into) {
      // what is left of the way goes on along the tooth's face
      const deep = into.out.reduce((sum, n, c) => sum + n * (wanted[c]! - into.at[c]!), 0);
      to = wanted.map((x, c) => x + (least - deep) * into.out[c]!) as [number, number, number];
    }
    const over = overTeeth(teeth, shown.positions, to);
    if (over && over.height < least) to = over.at.map((x, c) => x + least * over.out[c]!) as [number, number, number];
    if (to === wanted) continue;
    pushed = true;
    for (let c = 0; c < 3; c++) push[3 * v + c] = to[c]! - wanted[c]!;
  }
  if (!pushed) return;
  const back = inverseSkin(push, rig.character.parts[part]!.skin, shown.matrices[part] ?? null, moment.method);
  for (const { v } of lying) for (let c = 0; c < 3; c++) deltas[3 * v + c]! += back.deltas[3 * v + c]! / weight;
}
