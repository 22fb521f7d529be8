import type { Character } from "../model/character";
import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";
import { neighboursOf, type Neighbours } from "../model/neighbours";
import { UserError } from "../model/userError";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";
import { denseWeights, renormalize } from "./denseWeights";

export const PAINT_TOOLS = ["add", "take away", "even out"] as const;
export type PaintTool = (typeof PAINT_TOOLS)[number];

/** Weights of one part while they are painted. */
export interface WeightPaint {
  readonly part: number;
  readonly jointCount: number;
  /** jointCount numbers a vertex; changed in place by every dab. */
  readonly dense: Float32Array;
  readonly began: Float32Array;
  readonly neighbours: Neighbours;
  readonly mirror: Int32Array;
  readonly counterpart: Int32Array;
}
/** Rows as they were before a stroke, by vertex. */
export type PaintRecord = Map<number, Float32Array>;

/** Share of the way that one dab at full strength goes. */
const PACE = 0.15;

/** @throws UserError when the part is not there or not bound. */
export function beginPaint(character: Character, partName: string): WeightPaint {
  const index = character.parts.findIndex((p) => p.name === partName);
  const part = character.parts[index];
  if (!part?.skin || !character.skeleton)
    throw new UserError(`${partName} is not bound to joints.`, "paint", "Bind it first.");
  const jointCount = character.skeleton.joints.length;
  const dense = denseWeights(part, jointCount);
  return {
    part: index,
    jointCount,
    dense,
    began: dense.slice(),
    neighbours: neighboursOf(part),
    mirror: mirrorMap(part.positions),
    counterpart: Int32Array.from(mirrorJoints(character.skeleton, humanoidMap(character.skeleton, character.jointMap))),
  };
}

/**
 * One dab for one joint: adds weight, takes it away, or brings it to the neighbours' mean; the other joints of each
 * vertex make up the sum, in proportion. A vertex that hangs
 * wholly on the joint takes its neighbours' other joints when weight is taken away. @param hits vertices and 0..1 how
 * much of the brush each gets. @param symmetric does the same to the mirrored vertex and joint. @param locked joints
 * whose weight no dab changes; what they hold is not there to be given.
 */
export function dabPaint(
  paint: WeightPaint,
  joint: number,
  tool: PaintTool,
  strength: number,
  hits: ReadonlyMap<number, number>,
  symmetric: boolean,
  record: PaintRecord,
  locked: ReadonlySet<number> = NO_LOCKS,
): void {
  const other = paint.counterpart[joint]!;
  const before = new Map<number, number>();
  const plan: [number, number, number][] = [];
  for (const [v, share] of hits) {
    if (!locked.has(joint)) plan.push([v, joint, share]);
    const m = paint.mirror[v]!;
    if (symmetric && m !== NO_MIRROR && other !== NO_COUNTERPART && (m !== v || other !== joint) && !locked.has(other))
      plan.push([m, other, share]);
  }
  const at = (v: number, j: number): number => paint.dense[v * paint.jointCount + j]!;
  const wanted = plan.map(([v, j, share]): number => {
    const by = share * strength * (tool === "even out" ? 1 : PACE);
    const now = at(v, j);
    before.set(v, now);
    if (tool === "add") return now + by * Math.max(0, 1 - heldBy(paint, v, locked) - now);
    if (tool === "take away") return now * (1 - by);
    const { start, list } = paint.neighbours;
    const n = start[v + 1]! - start[v]!;
    let mean = 0;
    for (let k = start[v]!; k < start[v + 1]!; k++) mean += at(list[k]!, j) / n;
    return n ? now + by * (mean - now) : now;
  });
  plan.forEach(([v, j], i) => {
    if (!record.has(v)) record.set(v, paint.dense.slice(v * paint.jointCount, (v + 1) * paint.jointCount));
    setWeight(paint, v, j, wanted[i]!, locked);
  });
}

const NO_LOCKS: ReadonlySet<number> = new Set();
/** What locked joints hold of a vertex. */
function heldBy({ dense, jointCount }: WeightPaint, v: number, locked: ReadonlySet<number>): number {
  let held = 0;
  for (const j of locked) held += dense[v * jointCount + j]!;
  return held;
}

function setWeight(
  paint: WeightPaint,
  v: number,
  joint: number,
  wanted: number,
  lockedJoints: ReadonlySet<number>,
): void {
  const { dense, jointCount, neighbours } = paint;
  const row = v * jointCount;
  const held = heldBy(paint, v, lockedJoints);
  const weight = Math.min(wanted, 1 - held);
  if (weight < 0.999 - held && dense[row + joint]! > 0.999 - held) {
    // nothing else holds it: what holds its neighbours shall
    const { start, list } = neighbours;
    for (let k = start[v]!; k < start[v + 1]!; k++)
      for (let j = 0; j < jointCount; j++)
        if (j !== joint && !lockedJoints.has(j)) dense[row + j]! += dense[list[k]! * jointCount + j]!;
  }
  dense[row + joint] = weight;
  const locked = new Uint8Array(jointCount);
  locked[joint] = 1;
  for (const j of lockedJoints) locked[j] = 1;
  // where nothing but locked joints would be left to make up the sum, the joint keeps what they do not hold
  let free = 0;
  for (let j = 0; j < jointCount; j++) if (!locked[j]) free += dense[row + j]!;
  if (free <= 0) dense[row + joint] = 1 - held;
  renormalize(dense, jointCount, v, locked);
}

/** Puts rows back to what a record holds; the record then holds what they were. */
export function swapPaint(paint: WeightPaint, record: PaintRecord): void {
  for (const [v, row] of record) {
    const now = paint.dense.slice(v * paint.jointCount, (v + 1) * paint.jointCount);
    paint.dense.set(row, v * paint.jointCount);
    record.set(v, now);
  }
}
