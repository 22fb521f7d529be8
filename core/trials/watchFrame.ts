import type { Profile } from "../checks/profile";
import type { FaceReader } from "../checks/pairs/readPairs";
import { limitOf } from "../checks/pairs/readPairs";
import type { Severity } from "../checks/finding";
import type { Deformed, Rig } from "../deform/rig";
import { deform } from "../deform/rig";
import { evaluate, type Evaluated } from "../evaluate/evaluate";
import { turnOf } from "../evaluate/turns";
import type { Moment } from "../evaluate/moment";
import { degrees } from "../math/vec3";
import { twistDegrees } from "../math/quat";
import { FACE_MEASURES, type FaceMeasure } from "../measure/faceGauge";
import { opposed } from "../measure/opposed";
import { measurePosed, type JointGauge } from "../measure/measureJoint";
import { boneLabel } from "../names/humanoidBones";
import { isDriven } from "../model/character";
import type { JointMotion } from "../skeleton/jointMotions";

/** One measure of a frame that is beyond its limit. */
export interface FrameExcess {
  readonly check: string;
  readonly severity: Severity;
  readonly value: number;
  readonly unit: string;
  readonly limit: number;
  readonly part: string | null;
  readonly joint: string | null;
  readonly shape: string | null;
  /** What a sentence says of the place: "left lower arm, bend". */
  readonly place: string;
  /** Whether the limit is the least that is wanted. */
  readonly atLeast?: boolean;
}

/** What is read of a frame. */
export interface FrameReading {
  readonly frame: number;
  /** The largest value over its limit, 0 where none is over; 1 is at the limit. */
  readonly worst: number;
  readonly over: readonly FrameExcess[];
}

/** Tables for measuring moment after moment; see jobs' context. */
export interface WatchTables {
  readonly rig: Rig;
  readonly motions: readonly JointMotion[];
  readonly gauge: (joint: string) => JointGauge | null;
  /** Null for a character without a body. */
  readonly face: FaceReader | null;
}

/** A joint turned by less than this bends no skin worth reading, degrees. */
const TURNED = 12;
/** A joint may go beyond its range by this before it is told, degrees. */
const BEYOND = 3;
/** Weights under this move nothing that is seen. */
const SEEN = 0.02;

const angleOf = (turns: Evaluated["turns"], joint: number): number => {
  const [x, y, z, w] = turnOf(turns, joint);
  return degrees(2 * Math.atan2(Math.hypot(x, y, z), Math.abs(w)));
};

/** Measures one frame of a trial: skin at every joint that is bent, ranges of motion, the face. */
export function watchFrame(
  tables: WatchTables,
  frame: number,
  moment: Moment,
  profile: Profile,
  room: Deformed,
): FrameReading {
  const { rig, motions } = tables;
  const { character } = rig;
  const over: FrameExcess[] = [];
  const now = evaluate(character, moment);
  const index = new Map(character.skeleton?.joints.map((j, i) => [j.name, i]) ?? []);
  over.push(...rangeExcess(motions, now, index));
  const bent = new Map<string, string>();
  for (const m of motions) {
    const j = index.get(m.joint);
    if (j !== undefined && !bent.has(m.joint) && angleOf(now.turns, j) >= TURNED) bent.set(m.joint, boneLabel(m.bone));
  }
  const gauges = [...bent].flatMap(([joint, place]) => {
    const gauge = tables.gauge(joint);
    return gauge ? [{ gauge, place }] : [];
  });
  const parts = [...new Set(gauges.map((g) => g.gauge.region.part))];
  if (parts.length) deform(rig, moment, { out: room, parts });
  for (const { gauge, place } of gauges)
    over.push(...jointExcess(gauge, room, character.parts[gauge.region.part]!.name, place, profile));
  if (tables.face) over.push(...faceExcess(tables.face, now.weights, profile));
  return { frame, worst: over.reduce((m, o) => Math.max(m, timesOver(o)), 0), over };
}

/** Nothing that falls short of its limit counts for more than this. */
const SHORTEST = 9;
/**
 * How many times its limit a value is, or how many times too small; one with a limit of 0 counts from its own size.
 */
export const timesOver = ({
  value,
  limit,
  severity,
  atLeast,
}: Pick<FrameExcess, "value" | "limit" | "severity" | "atLeast">): number => {
  if (severity === "note") return 0;
  if (atLeast) return Math.min(SHORTEST, limit / Math.max(value, 1e-9));
  return limit === 0 ? 1 + Math.abs(value) / 10 : Math.abs(value / limit);
};

function jointExcess(
  gauge: JointGauge,
  room: Deformed,
  part: string,
  place: string,
  { limits }: Profile,
): FrameExcess[] {
  const { reading } = measurePosed(gauge, room);
  const out: FrameExcess[] = [];
  const joint = gauge.jointName;
  const add = (check: string, severity: Severity, value: number, unit: string, limit: number): void => {
    out.push({ check, severity, value, unit, limit, part, joint, shape: null, place });
  };
  const [warn, error] = [limits["pose.volume.warn"], limits["pose.volume.error"]];
  if (error !== null && reading.volume < error) add("pose.volume", "error", 100 * reading.volume, "%", 100 * error);
  else if (warn !== null && reading.volume < warn) add("pose.volume", "warn", 100 * reading.volume, "%", 100 * warn);
  const deep = limits["pose.penetration"];
  if (deep !== null && reading.depth > deep) add("pose.penetration", "warn", reading.depth, "mm", deep);
  const long = limits["pose.stretch"];
  if (long !== null && reading.stretch > long) add("pose.stretch", "warn", reading.stretch, "ratio", long);
  if (reading.flips > 0) add("pose.flip", "warn", reading.flips, "faces", 0);
  return out;
}

function rangeExcess(
  motions: readonly JointMotion[],
  { turns }: Evaluated,
  index: ReadonlyMap<string, number>,
): FrameExcess[] {
  return motions.flatMap((m): FrameExcess[] => {
    const joint = index.get(m.joint);
    if (joint === undefined) return [];
    const angle = twistDegrees(turnOf(turns, joint), m.axis);
    const limit = angle > 0 ? m.max : m.min;
    if (angle >= m.min - BEYOND && angle <= m.max + BEYOND) return [];
    return [
      {
        check: "pose.range",
        severity: "note",
        value: angle,
        unit: "deg",
        limit,
        part: null,
        joint: m.joint,
        shape: null,
        place: m.label,
      },
    ];
  });
}

const FACE: Readonly<Record<FaceMeasure, readonly [check: string, unit: string, place: string]>> = {
  lipCross: ["face.lip-cross", "mm", "lips"],
  eyeThroughLid: ["face.eye-through-lid", "mm", "lids"],
  stretch: ["pair.excess", "ratio", "face"],
  flips: ["pair.excess", "faces", "face"],
  lidGap: ["face.lid-gap", "mm", "lids"],
  teethThrough: ["face.teeth-through", "mm", "teeth"],
  tongueThrough: ["face.tongue-through", "mm", "tongue"],
};

/** What the shapes that play do to the face together, with those named that play strongest. */
function faceExcess(face: FaceReader, weights: ArrayLike<number>, profile: Profile): FrameExcess[] {
  const { shapes } = face.character;
  const playing = new Map<string, number>();
  shapes.forEach((s, i) => {
    if (weights[i]! > SEEN && !isDriven(face.character, s.name)) playing.set(s.name, weights[i]!);
  });
  if (playing.size === 0) return [];
  const out = opposedExcess(face, playing, profile);
  const reading = face.read(playing);
  const strongest = [...playing].sort((a, b) => b[1] - a[1]).slice(0, 2);
  const names = strongest.map(([n]) => n);
  for (const measure of FACE_MEASURES) {
    const limit = limitOf(profile, measure);
    const value = reading[measure];
    if (limit === null || value <= limit + 1e-4) continue;
    const [check, unit, place] = FACE[measure];
    out.push({
      check,
      severity: measure === "stretch" ? "warn" : "error",
      value,
      unit,
      limit,
      part: face.character.parts[face.gauge.part]!.name,
      joint: null,
      shape: names.join(" with "),
      place: `${place}, ${names.join(" with ")}`,
    });
  }
  return out;
}

/** A shape that plays at less than this is not asked what it takes back. */
const MEANT = 0.4;

/** Shapes that pull against each other. */
function opposedExcess(face: FaceReader, playing: ReadonlyMap<string, number>, { limits }: Profile): FrameExcess[] {
  const limit = limits["pair.opposed"];
  const meant = new Map([...playing].filter(([, w]) => w >= MEANT));
  const found = limit === null || meant.size < 2 ? null : opposed(face.character, meant);
  if (!found || limit === null || 100 * found.share <= limit) return [];
  const shape = `${found.taken} with ${found.by}`;
  const value = 100 * found.share;
  return [
    { check: "pair.opposed", severity: "warn", value, unit: "%", limit, part: null, joint: null, shape, place: shape },
  ];
}
