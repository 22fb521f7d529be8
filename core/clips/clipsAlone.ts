import type { Bvh } from "../formats/bvh/readBvh";
import type { Character, Joint } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { clipOfMotion, restStanding } from "./motion";
import { motionFromBvh } from "./sourceMotion";

/** Lengths that files are kept in, metres. */
const UNITS: readonly (readonly [string, number])[] = [
  ["metres", 1],
  ["centimetres", 0.01],
  ["inches", 0.0254],
  ["millimetres", 0.001],
  ["decimetres", 0.1],
];
/** Legs of a person, hip to ankle, metres: a child's to a tall man's (common practice, no source). */
const LEGS = [0.42, 1.05] as const;
const USUAL_LEG = 0.8;

/**
 * A BVH as a character of joints and one clip, without skin: in metres, by the unit in which its legs have the length
 * of a person's, else scaled so that they have; a note says which.
 */
export function characterOfBvh(bvh: Bvh, name: string): Character {
  const source = motionFromBvh(bvh, name);
  const { skeleton } = source.motion;
  const rest = restStanding(skeleton);
  const map = humanoidMap(skeleton);
  const [hip, knee, foot] = ["UpperLeg", "LowerLeg", "Foot"].map((b) => map.jointOfBone.get(`left${b}`));
  const gap = (a: number, b: number): number =>
    Math.hypot(...[0, 1, 2].map((c) => rest.places[a]![c]! - rest.places[b]![c]!));
  const leg = hip !== undefined && knee !== undefined && foot !== undefined ? gap(hip, knee) + gap(knee, foot) : 0;
  const known = UNITS.find(([, metres]) => leg * metres > LEGS[0] && leg * metres < LEGS[1]);
  const unit = known?.[1] ?? (leg > 0 ? USUAL_LEG / leg : 0.01);
  const joints = skeleton.joints.map((j): Joint => ({
    ...j,
    translation: [j.translation[0] * unit, j.translation[1] * unit, j.translation[2] * unit],
  }));
  const clip = clipOfMotion(source.motion, name);
  return {
    name,
    parts: [],
    materials: [],
    shapes: [],
    drivers: [],
    shapeDrivers: [],
    jointMap: {},
    notes: [`lengths taken as ${known?.[0] ?? `${Number(unit.toPrecision(4))} m, by the length of its legs`}`],
    skeleton: { ...skeleton, joints, inverseBinds: bindsOf(joints) },
    clips: [
      {
        ...clip,
        tracks: clip.tracks.map((t) =>
          t.path === "translation" ? { ...t, values: t.values.map((x) => x * unit) } : t,
        ),
      },
    ],
  };
}

/** Joints without turns at rest are bound where they stand. */
function bindsOf(joints: readonly Joint[]): Float32Array {
  const out = new Float32Array(16 * joints.length);
  const at: number[][] = [];
  joints.forEach(({ parent, translation }, j) => {
    const above = parent < 0 ? [0, 0, 0] : at[parent]!;
    at[j] = [0, 1, 2].map((c) => above[c]! + translation[c]!);
    out.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -at[j][0]!, -at[j][1]!, -at[j][2]!, 1], 16 * j);
  });
  return out;
}
