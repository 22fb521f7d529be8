import { deform, makeRig } from "../deform/rig";
import { drivenWeights } from "../evaluate/drivers/drivenWeight";
import { fullMoments } from "../evaluate/drivers/fullMoment";
import { readyShapes } from "../evaluate/drivers/readyDrivers";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import type { Character } from "../model/character";
import { mixShapes } from "../shapes/mixShapes";
import { correctiveFromSculpt } from "./correctiveFromSculpt";
import type { StackedEdit } from "./stackedOn";

/** What becomes of correctives when the skin under them is bound otherwise. */
export interface AskedAgain {
  readonly edits: readonly StackedEdit[];
  /** Largest distance of the skin from its sculpts afterwards, where they were sculpted, mm. */
  readonly missedMm: number;
}

/** Skin that another binding moves by less needs no other sculpt, metres. */
const LEAST = 1e-5;
/** A corrective that is hardly at work in its own pose cannot be asked there. */
const ACTS = 0.1;
/** Weights that differ by less are the same. */
const SAME = 1e-3;

/**
 * Asks correctives again after the binding of the skin has changed: each gives way, in the order in which they were
 * made, so that in the pose where it is at full the skin that it moves stands as it stood before. Where its skin does
 * not stand otherwise it stays as it is.
 * @param after the same parts and shapes, bound or driven otherwise. @param changed correctives that are driven
 * otherwise: they stay, and those made before them are not asked. Changes nothing.
 */
export function askedAgain(
  before: Character,
  after: Character,
  method: Moment["method"] = "linear",
  changed: readonly string[] = [],
): AskedAgain {
  const { shapeIndex } = readyShapes(before);
  const was = makeRig(before);
  let now = after;
  const edits: StackedEdit[] = [];
  let missedMm = 0;
  const others = changed.flatMap((n) => shapeIndex.get(n) ?? []);
  const first = others.length ? Math.min(...others) : -1;
  for (const { shape: name, pose, weights, enabled } of fullMoments(before)) {
    const at = shapeIndex.get(name);
    if (!enabled || at === undefined || at <= first || others.includes(at)) continue;
    const moment: Moment = { ...REST_MOMENT, method, pose, weights };
    const driven = drivenWeights(now, moment);
    const full = driven[at]!;
    if (full < ACTS) continue;
    if (others.length) {
      const weighed = drivenWeights(before, moment);
      if (others.every((o) => Math.abs(driven[o]! - weighed[o]!) < SAME)) continue;
    }
    const own = now.shapes[at]!;
    const stood = deform(was, moment, { normals: false }).positions;
    const rig = makeRig(now);
    const stands = deform(rig, moment, { normals: false }).positions;
    let far = 0;
    const sculpt = stands.map((P, p): Float32Array | null => {
      const moved = own.deltas.find((d) => d.part === p);
      if (!moved) return null;
      const out = P.slice();
      for (const v of moved.vertices) {
        far = Math.max(far, apart(stood[p]!, P, v));
        out.set(stood[p]!.subarray(3 * v, 3 * v + 3), 3 * v);
      }
      return out;
    });
    if (far < LEAST) continue;
    const made = correctiveFromSculpt(rig, moment, sculpt);
    const deltas = mixShapes([
      [own, 1],
      [{ deltas: made.deltas }, 1 / full],
    ]);
    missedMm = Math.max(missedMm, made.residual.max);
    edits.push({ name, deltas });
    now = { ...now, shapes: now.shapes.map((s) => (s.name === name ? { ...s, deltas } : s)) };
  }
  return { edits, missedMm };
}

const apart = (P: Float32Array, Q: Float32Array, v: number): number =>
  Math.hypot(P[3 * v]! - Q[3 * v]!, P[3 * v + 1]! - Q[3 * v + 1]!, P[3 * v + 2]! - Q[3 * v + 2]!);
