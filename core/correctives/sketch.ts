import { deform, withShapes, type Deformed, type Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import type { ShapeDelta } from "../model/character";
import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";
import { neighboursOf, type Neighbours } from "../model/neighbours";
import { brushDab, type BrushDab } from "./brush";
import { withTrialShape } from "./correctiveFromSculpt";
import { inverseSkin } from "./inverseSkin";

const SKETCH = "\u0000sketch";

/**
 * A corrective being sculpted on one part: the rest-space movement so far, and the tables the brushes need.
 * `deltas` changes as strokes are made; everything else stays.
 */
export interface Sketch {
  readonly part: number;
  readonly rig: Rig;
  /** 3 x vertexCount, metres, bind space. */
  readonly deltas: Float32Array;
  /** What the deltas were when sculpting began. */
  readonly began: Float32Array;
  /** Weight the sketch is shown at in the pose it is edited in. */
  readonly weight: number;
  readonly neighbours: Neighbours;
  readonly mirror: Int32Array;
  /** Vertices whose stroke could not be returned to rest well. */
  readonly ill: Set<number>;
}

/**
 * @param start movement of a corrective that is edited again. @param weight its driver's weight in the pose (1 for a
 * new one).
 */
export function startSketch(rig: Rig, part: number, start: ShapeDelta | null = null, weight = 1): Sketch {
  const vertexCount = rig.character.parts[part]!.positions.length / 3;
  const deltas = new Float32Array(3 * vertexCount);
  start?.vertices.forEach((v, k) => deltas.set(start.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  const all = Uint32Array.from({ length: vertexCount }, (_, v) => v);
  const character = withTrialShape(rig.character, [{ part, vertices: all, deltas }], SKETCH);
  return {
    part,
    rig: withShapes(rig, character),
    deltas,
    began: deltas.slice(),
    weight,
    neighbours: neighboursOf(rig.character.parts[part]!),
    mirror: mirrorMap(rig.character.parts[part]!.positions),
    ill: new Set(),
  };
}

const sketchMoment = (sketch: Sketch, moment: Moment): Moment => ({
  ...moment,
  weights: { ...moment.weights, [SKETCH]: sketch.weight },
});

/** The character as it looks with the sketch on. */
export const deformSketch = (sketch: Sketch, moment: Moment, out?: Deformed, parts?: readonly number[]): Deformed =>
  deform(sketch.rig, sketchMoment(sketch, moment), { ...(out ? { out } : {}), ...(parts ? { parts } : {}) });

/** One stroke's change, for undo: rest deltas before it, by vertex. */
export type StrokeRecord = Map<number, readonly [number, number, number]>;

/**
 * Applies a dab in the pose: the posed movement goes back to rest by each vertex's own skinning, and with `symmetric`
 * on its mirror image is added at rest on the other side, so both sides agree whatever pose each is in.
 */
export function dabSketch(
  sketch: Sketch,
  moment: Moment,
  shown: Deformed,
  dab: BrushDab,
  mask: Float32Array,
  symmetric: boolean,
  record: StrokeRecord,
): void {
  const { part, deltas, mirror } = sketch;
  const { vertices, moves } = brushDab(dab, shown.positions[part]!, shown.normals[part]!, sketch.neighbours, mask);
  if (vertices.length === 0) return;
  if (dab.tool === "give back") return giveBack(sketch, vertices, moves, symmetric, record);
  const full = new Float32Array(deltas.length);
  vertices.forEach((v, k) => full.set(moves.subarray(3 * k, 3 * k + 3), 3 * v));
  const rest = inverseSkin(full, sketch.rig.character.parts[part]!.skin, shown.matrices[part] ?? null, moment.method);
  for (const v of rest.ill) sketch.ill.add(v);
  const place = sketch.rig.placeOf[part];
  const change = (v: number, x: number, y: number, z: number): void => {
    if (!record.has(v)) record.set(v, [deltas[3 * v]!, deltas[3 * v + 1]!, deltas[3 * v + 2]!]);
    deltas[3 * v]! += x / sketch.weight;
    deltas[3 * v + 1]! += y / sketch.weight;
    deltas[3 * v + 2]! += z / sketch.weight;
  };
  for (const v of vertices) {
    const x = rest.deltas[3 * v]!;
    const y = rest.deltas[3 * v + 1]!;
    const z = rest.deltas[3 * v + 2]!;
    const m = mirror[v]!;
    if (symmetric && m === v) change(v, 0, y, z);
    else {
      change(v, x, y, z);
      if (symmetric && m !== NO_MIRROR && !(place && place[m] !== m)) change(m, -x, y, z);
    }
  }
}

/**
 * Takes the sketch back under the brush, by a share of what it is, towards the movement it began with. @param shares
 * the share of each vertex, in every third number.
 */
function giveBack(
  { deltas, began, mirror }: Sketch,
  vertices: Uint32Array,
  shares: Float32Array,
  symmetric: boolean,
  record: StrokeRecord,
): void {
  const done = new Set<number>();
  const back = (v: number, share: number): void => {
    if (done.has(v)) return;
    done.add(v);
    if (!record.has(v)) record.set(v, [deltas[3 * v]!, deltas[3 * v + 1]!, deltas[3 * v + 2]!]);
    for (let c = 0; c < 3; c++) deltas[3 * v + c]! += share * (began[3 * v + c]! - deltas[3 * v + c]!);
  };
  vertices.forEach((v, k) => {
    back(v, shares[3 * k]!);
    if (symmetric && mirror[v]! !== NO_MIRROR) back(mirror[v]!, shares[3 * k]!);
  });
}

/** Puts the deltas of a record back and returns the record that would redo it. */
export function revertStroke(sketch: Sketch, record: StrokeRecord): StrokeRecord {
  const redo: StrokeRecord = new Map();
  for (const [v, before] of record) {
    redo.set(v, [sketch.deltas[3 * v]!, sketch.deltas[3 * v + 1]!, sketch.deltas[3 * v + 2]!]);
    sketch.deltas.set(before, 3 * v);
  }
  return redo;
}

/** What of a vertex belongs to one side: all, nothing, or half on the midline. */
function sideShareAt(x: number, side: "left" | "right"): number {
  if (Math.abs(x) < 1e-5) return 0.5;
  return x > 0 === (side === "left") ? 1 : 0;
}

/** Sparse deltas of the sketch: all, or those of one side of x = 0 (the midline goes with both at half). */
export function sketchDeltas(sketch: Sketch, side: "both" | "left" | "right" = "both"): ShapeDelta {
  const P = sketch.rig.character.parts[sketch.part]!.positions;
  const vertices: number[] = [];
  const values: number[] = [];
  for (let v = 0; v < P.length / 3; v++) {
    const x = P[3 * v]!;
    const share = side === "both" ? 1 : sideShareAt(x, side);
    const d = [0, 1, 2].map((k) => share * sketch.deltas[3 * v + k]!);
    if (Math.hypot(...d) < 1e-7) continue;
    vertices.push(v);
    values.push(...d);
  }
  return { part: sketch.part, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(values) };
}
