import { dot } from "~core/math/vec3";
import { PROFILES } from "~core/checks/checkFacts";
import type { JointReading } from "~core/measure/measureJoint";
import type { SweepRow } from "~core/measure/sweepMotion";
import type { Character, Driver } from "~core/model/character";
import { rangeAlong } from "~core/model/drivenByTurn";
import type { JointMotion } from "~core/skeleton/jointMotions";

const { limits } = PROFILES.realtime;

export interface Excess {
  readonly measure: "volume" | "overlap" | "stretch" | "faces" | "crease" | "bone" | "roughness";
  /** Value over its limit: above 1 is over the limit. */
  readonly times: number;
  readonly text: string;
}

/** What is worst in a reading, as a multiple of its limit. */
export function worstOf(reading: JointReading): Excess {
  const all: Excess[] = [
    {
      measure: "volume",
      times: Math.max(0, -reading.volume) / -(limits["pose.volume.warn"] ?? -0.1),
      text: `volume ${(100 * reading.volume).toFixed(0)} %`,
    },
    {
      measure: "overlap",
      times: reading.depth / (limits["pose.penetration"] ?? 5),
      text: `overlap ${reading.depth.toFixed(1)} mm`,
    },
    {
      measure: "stretch",
      times: (reading.stretch - 1) / ((limits["pose.stretch"] ?? 2) - 1),
      text: `stretch ${reading.stretch.toFixed(2)} ×`,
    },
    ...looks(reading),
    // no face may turn over: the first is over the limit
    {
      measure: "faces",
      times: reading.flips > 0 ? 1 + reading.flips / 10 : 0,
      text: reading.flips === 1 ? "1 face turned" : `${reading.flips} faces turned`,
    },
  ];
  return all.reduce((a, b) => (b.times > a.times ? b : a));
}

/** How the limb looks; nothing of it in readings of an earlier version. */
const looks = ({ crease = 0, bone = 0, roughness = 0 }: JointReading): Excess[] => [
  { measure: "crease", times: crease / (limits["pose.crease"] ?? 90), text: `crease ${crease.toFixed(0)}°` },
  { measure: "bone", times: bone / (limits["pose.bone"] ?? 20), text: `off bone ${bone.toFixed(1)} mm` },
  {
    measure: "roughness",
    times: roughness / (limits["pose.roughness"] ?? 1),
    text: `rough ${roughness.toFixed(2)} mm`,
  },
];

/** Worst moment of a sweep, with or without correctives. */
export function worstRow(
  rows: readonly SweepRow[],
  which: "with" | "without",
): { row: SweepRow; excess: Excess } | null {
  let best: { row: SweepRow; excess: Excess } | null = null;
  for (const row of rows) {
    const excess = worstOf(row[which]);
    if (!best || excess.times > best.excess.times) best = { row, excess };
  }
  return best;
}

/** Does the driver read this motion? Its range is given in the motion's own sense. */
export const rangeOn = (driver: Driver, motion: JointMotion): { from: number; to: number } | null =>
  rangeAlong(driver, motion.joint, motion.axis, 0.9);

export const driversOn = (character: Character, motion: JointMotion): Driver[] =>
  character.drivers.filter((d) => rangeOn(d, motion) !== null);

/** A corrective that acts by a joint, and where on one of its motions; null where that is not said in degrees. */
export interface Acting {
  readonly shape: string;
  readonly range: { readonly from: number; readonly to: number } | null;
}

/** Correctives that act by a motion's joint, by whatever kind of driver. */
export function actingOn(character: Character, motion: JointMotion): Acting[] {
  const byAngle = driversOn(character, motion).map((d): Acting => ({ shape: d.shape, range: rangeOn(d, motion) }));
  const byReadings = (character.poseDrivers ?? []).flatMap((d) =>
    d.terms.flatMap((t): Acting[] => {
      if (t.kind === "weight" || t.joint !== motion.joint) return [];
      if (t.kind === "direction") return motion.name === "twist" ? [] : [{ shape: d.shape, range: null }];
      const along = dot(t.axis, motion.axis);
      if (Math.abs(along) < 0.9) return [];
      const ends = [t.points[0]!, t.points[t.points.length - 1]!].map((p) => Math.sign(along) * p.degrees);
      return [{ shape: d.shape, range: { from: ends[0]!, to: ends[1]! } }];
    }),
  );
  const bySamples = (character.sampleSets ?? []).flatMap((s): Acting[] =>
    s.joints.some((j) => j.joint === motion.joint)
      ? s.samples.flatMap(({ shape }) => (shape === null ? [] : [{ shape, range: null }]))
      : [],
  );
  const seen = new Set<string>();
  return [...byAngle, ...byReadings, ...bySamples].filter((a) => !seen.has(a.shape) && seen.add(a.shape));
}
