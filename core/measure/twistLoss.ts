import { deform, type Rig } from "../deform/rig";
import { evaluate } from "../evaluate/evaluate";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { translationOf } from "../math/mat4";
import { dot, normalize, pointAt, scale, sub, type Vec3 } from "../math/vec3";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { limbLine, liesInLimb } from "../skeleton/limbLine";
import { subtreeOf } from "./jointRegion";

/** The thinnest place of a twisted limb. */
export interface TwistReading {
  /** Area of the cross-section there, share of what it is at rest. */
  readonly left: number;
  readonly degrees: number;
  /** Where along the limb, 0..1. */
  readonly at: number;
}

type LimbLine = ReturnType<typeof limbLine>;

/** Slices along a limb; fewer vertices make none. */
const SLICES = 12;
const LEAST = 6;
/** A vertex belongs to the limb where the limb holds more than this of it. */
const HELD = 0.6;

/**
 * The cross-section that a limb keeps while it is twisted to either end of its range: the mean square distance of each
 * slice's vertices from the bone, against rest; that of the thinnest slice (an area, whatever the slice's form). Skin
 * that is a blend of two joints by halves keeps cos(t/2) squared of it (closed form).
 * @returns null where no part has enough vertices along the limb.
 */
export function twistLoss(
  rig: Rig,
  motion: JointMotion,
  end: string,
  method: Moment["method"],
  drivers = true,
): TwistReading | null {
  const { character } = rig;
  const { skeleton, parts } = character;
  const body = parts.findIndex((p) => p.kind === "body");
  if (!skeleton || body < 0 || !parts[body]!.skin) return null;
  const line = limbLine(skeleton, motion.joint, end, liesInLimb(skeleton, motion.joint, end));
  const P = deform(rig, { ...REST_MOMENT, method, drivers }, { normals: false }).positions[body]!;
  const sliceOf = slicesOf(rig, body, line, P);
  const areas = (moment: Moment): (number | null)[] => sliceAreas(rig, body, line, sliceOf, moment);
  const rest = areas({ ...REST_MOMENT, method, drivers });
  let worst: TwistReading | null = null;
  for (const degrees of [motion.min, motion.max]) {
    if (degrees === 0) continue;
    areas({ ...REST_MOMENT, method, drivers, pose: motionPose(motion, degrees) }).forEach((area, s) => {
      const was = rest[s];
      if (area === null || !was) return;
      if (!worst || area / was < worst.left) worst = { left: area / was, degrees, at: (s + 0.5) / SLICES };
    });
  }
  return worst;
}

/** By vertex the slice of a limb that it is in, -1 for none: what the limb holds, at rest. */
function slicesOf({ character }: Rig, body: number, line: LimbLine, P: Float32Array): Int32Array {
  const below = subtreeOf(character, line.end);
  const own = subtreeOf(character, line.first).map((x, j) => (x && !below[j] ? 1 : 0));
  const skin = character.parts[body]!.skin!;
  const way = sub(line.to, line.from);
  const sliceOf = new Int32Array(P.length / 3).fill(-1);
  for (let v = 0; v < sliceOf.length; v++) {
    let held = 0;
    for (let i = v * skin.influenceCount; i < (v + 1) * skin.influenceCount; i++)
      if (own[skin.joints[i]!]) held += skin.weights[i]!;
    const along = dot(sub(pointAt(P, v), line.from), way) / dot(way, way);
    if (held > HELD && along >= 0 && along < 1) sliceOf[v] = Math.floor(along * SLICES);
  }
  return sliceOf;
}

/** Mean square distance of each slice's vertices from the slice's middle, across the bone; null for thin slices. */
function sliceAreas(rig: Rig, body: number, line: LimbLine, sliceOf: Int32Array, moment: Moment): (number | null)[] {
  const { world } = evaluate(rig.character, moment);
  const from = translationOf(world!, 16 * line.first);
  const bone = normalize(sub(translationOf(world!, 16 * line.end), from));
  const posed = deform(rig, moment, { normals: false }).positions[body]!;
  const sums = new Float64Array(SLICES);
  const counts = new Uint32Array(SLICES);
  // slices turn about their own middle: it need not lie on the bone
  const middles = Array.from({ length: SLICES }, (): [number, number, number] => [0, 0, 0]);
  const flat = (v: number): Vec3 => {
    const off = sub(pointAt(posed, v), from);
    return sub(off, scale(bone, dot(off, bone)));
  };
  sliceOf.forEach((s, v) => {
    if (s < 0) return;
    counts[s]!++;
    flat(v).forEach((x, c) => (middles[s]![c]! += x));
  });
  sliceOf.forEach((s, v) => {
    if (s < 0) return;
    const d = sub(flat(v), scale(middles[s]!, 1 / counts[s]!));
    sums[s]! += dot(d, d);
  });
  return Array.from(sums, (x, s) => (counts[s]! >= LEAST ? x / counts[s]! : null));
}

/** Degrees between neighbouring joints of a limb at which a blend of them by halves keeps a share of the area. */
export const twistStep = (left: number): number => (360 / Math.PI) * Math.acos(Math.sqrt(left));
