import { allocateDeformed, deform, type Rig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import type { Part } from "../model/character";
import { neighboursOf } from "../model/neighbours";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import type { Tick } from "./sweepMotion";

/** Where one part tears most while one motion goes through its range. */
export interface WalkRow {
  readonly part: string;
  readonly motion: string;
  readonly label: string;
  readonly joint: string;
  readonly angle: number;
  /** Of the worst edge: length over its length at rest, and how much longer it is, mm. */
  readonly stretch: number;
  readonly longerMm: number;
  /** Ends of the edges that are torn, worst first, up to 200. */
  readonly vertices: readonly number[];
}

/**
 * An edge this much longer than at rest, by ratio and by mm, is listed: skin at a bent joint keeps below one of the two
 * as a rule.
 */
export const LISTED = { ratio: 2.5, longerMm: 12 } as const;
/** One that grows by more is torn (our own choice: cloth over a shoulder stays below it). */
export const TORN_MM = 50;
const MOST_VERTICES = 200;

/**
 * Every motion in turn, at both of its ends, over every part that is bound: an island on the wrong joint, a vertex that
 * stays behind or an axis that is off tears edges. Worst first; parts that hold together are left out.
 */
export async function walkThrough(
  rig: Rig,
  motions: readonly JointMotion[],
  method: Moment["method"],
  tick: Tick = () => {},
): Promise<WalkRow[]> {
  const { parts } = rig.character;
  const edges = parts.map(boundEdges);
  const out = allocateDeformed(rig);
  const posed = (pose: Moment["pose"]): readonly Float32Array[] =>
    deform(rig, { ...REST_MOMENT, method, pose }, { out, normals: false }).positions.map((P, p) =>
      lengthsOf(edges[p]!, P),
    );
  const rest = posed({});
  const rows: WalkRow[] = [];
  for (const [i, motion] of motions.entries()) {
    await tick(i, motions.length);
    const worst = new Map<number, WalkRow>();
    for (const angle of [motion.min, motion.max]) {
      if (angle === 0) continue;
      for (const [p, now] of posed(motionPose(motion, angle)).entries()) {
        const torn = tornEdges(rest[p]!, now);
        const [first] = torn;
        if (!first || 1000 * first.longer <= (worst.get(p)?.longerMm ?? 0)) continue;
        const ends = new Set(torn.flatMap(({ edge }) => [edges[p]![2 * edge]!, edges[p]![2 * edge + 1]!]));
        worst.set(p, {
          part: parts[p]!.name,
          motion: motion.id,
          label: motion.label,
          joint: motion.joint,
          angle,
          stretch: first.ratio,
          longerMm: 1000 * first.longer,
          vertices: [...ends].slice(0, MOST_VERTICES),
        });
      }
    }
    rows.push(...worst.values());
  }
  await tick(motions.length, motions.length);
  return rows.sort(
    (a, b) => b.longerMm - a.longerMm || a.part.localeCompare(b.part) || a.motion.localeCompare(b.motion),
  );
}

/** Edges of a part that is bound, pairs of vertices; none of one that is not. */
function boundEdges(part: Part): Uint32Array {
  if (!part.skin) return new Uint32Array(0);
  const { start, list } = neighboursOf(part);
  const out: number[] = [];
  for (let v = 0; v + 1 < start.length; v++)
    for (let k = start[v]!; k < start[v + 1]!; k++) if (list[k]! > v) out.push(v, list[k]!);
  return Uint32Array.from(out);
}

function lengthsOf(edges: Uint32Array, P: Float32Array): Float32Array {
  const out = new Float32Array(edges.length / 2);
  for (let e = 0; e < out.length; e++) {
    const [a, b] = [3 * edges[2 * e]!, 3 * edges[2 * e + 1]!];
    out[e] = Math.hypot(P[a]! - P[b]!, P[a + 1]! - P[b + 1]!, P[a + 2]! - P[b + 2]!);
  }
  return out;
}

/** Edges that are listed, the one that grew most first; lengths in metres. */
function tornEdges(rest: Float32Array, now: Float32Array): { edge: number; longer: number; ratio: number }[] {
  const torn: { edge: number; longer: number; ratio: number }[] = [];
  now.forEach((l, edge) => {
    const longer = l - rest[edge]!;
    const ratio = rest[edge]! > 1e-6 ? l / rest[edge]! : 1;
    if (ratio > LISTED.ratio && 1000 * longer > LISTED.longerMm) torn.push({ edge, longer, ratio });
  });
  return torn.sort((a, b) => b.longer - a.longer || a.edge - b.edge);
}

/** Seconds a motion takes in the walk: out to one end, over to the other, and back to rest. */
export const SECONDS_A_MOTION = 2;

/**
 * Where the walk is at a time in seconds: the motion and its angle, degrees. Goes out and back evenly and eases at the
 * ends.
 */
export function walkAt(
  motions: readonly JointMotion[],
  seconds: number,
): { motion: JointMotion; index: number; degrees: number } | null {
  if (motions.length === 0) return null;
  const index = Math.min(motions.length - 1, Math.max(0, Math.floor(seconds / SECONDS_A_MOTION)));
  const motion = motions[index]!;
  const share = Math.min(1, Math.max(0, seconds / SECONDS_A_MOTION - index));
  const ends = [motion.max, motion.min].filter((a) => a !== 0);
  const along = share * ends.length;
  const k = Math.min(ends.length - 1, Math.floor(along));
  const wave = (1 - Math.cos(2 * Math.PI * (along - k))) / 2;
  return { motion, index, degrees: ends.length ? ends[k]! * wave : 0 };
}
