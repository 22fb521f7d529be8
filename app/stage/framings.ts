import type { Deformed } from "~core/deform/rig";
import { evaluate } from "~core/evaluate/evaluate";
import type { Moment } from "~core/evaluate/moment";
import { translationOf } from "~core/math/mat4";
import { add, length, lerp, normalize, scale, sub, type Vec3 } from "~core/math/vec3";
import { NO_JOINT } from "~core/model/character";
import type { Loaded } from "../session/loaded";
import type { ShownPlace } from "../session/slices/selection";

/** A place to look at: centre and radius in metres, and from where. */
export interface View {
  readonly centre: Vec3;
  readonly radius: number;
  readonly from: Vec3;
}

const FRONT: Vec3 = normalize([0.12, 0.04, 1]);
export const FIELD_OF_VIEW = 26;

export const FRAMINGS = ["whole", "bust", "face", "eyes", "mouth", "hands"] as const;

function boundsOf(positions: readonly Float32Array[]): { lo: Vec3; hi: Vec3 } {
  const lo: [number, number, number] = [Infinity, Infinity, Infinity];
  const hi: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let k = 0; k < 3; k++)
    for (const P of positions)
      for (let i = k; i < P.length; i += 3) {
        if (P[i]! < lo[k]!) lo[k] = P[i]!;
        if (P[i]! > hi[k]!) hi[k] = P[i]!;
      }
  return { lo, hi };
}

/**
 * Where the camera goes for a framing by name; `joint NAME` frames a joint where it is then. Falls back to the whole
 * figure.
 */
export function viewOf(framing: string, loaded: Loaded, moment: Moment, deformed: Deformed): View {
  const { character, humanoid } = loaded;
  const { lo, hi } = boundsOf(deformed.positions.filter((P) => P.length > 0));
  const stature = hi[1] - lo[1];
  const middle = lerp(lo, hi, 0.5);
  const whole: View = { centre: middle, radius: 0.53 * Math.max(stature, hi[0] - lo[0]), from: FRONT };
  if (!character.skeleton || !humanoid)
    return framing === "face" || framing === "bust"
      ? { centre: [middle[0], lo[1] + 0.92 * stature, middle[2]], radius: 0.09 * stature, from: FRONT }
      : whole;
  const world = evaluate(character, moment).world!;
  const at = (bone: string): Vec3 | null => {
    const j = humanoid.jointOfBone.get(bone);
    return j === undefined ? null : translationOf(world, 16 * j);
  };
  const left = at("leftEye");
  const right = at("rightEye");
  const head = at("head");
  const eyes = left && right ? lerp(left, right, 0.5) : head ? add(head, [0, 0.03 * stature, 0.05 * stature]) : null;
  const span = left && right ? length(sub(left, right)) : 0.037 * stature;
  switch (framing) {
    case "bust":
      return eyes ? { centre: add(eyes, [0, -2.2 * span, -0.8 * span]), radius: 4.1 * span, from: FRONT } : whole;
    case "face":
      return eyes
        ? { centre: add(eyes, [0, -0.5 * span, -0.2 * span]), radius: 2.15 * span, from: normalize([0.3, 0.02, 1]) }
        : whole;
    case "eyes":
      return eyes ? { centre: eyes, radius: 0.95 * span, from: normalize([0.12, 0, 1]) } : whole;
    case "mouth":
      return eyes
        ? { centre: add(eyes, [0, -1.12 * span, 0.2 * span]), radius: 0.85 * span, from: normalize([0.2, 0, 1]) }
        : whole;
    case "hands": {
      const hand = at("leftHand");
      const finger = at("leftMiddleIntermediate") ?? hand;
      return hand && finger
        ? { centre: lerp(hand, finger, 0.6), radius: 0.075 * stature, from: normalize([0.9, 0.35, 0.7]) }
        : whole;
    }
  }
  if (framing.startsWith("joint ")) {
    const j = character.skeleton.joints.findIndex((x) => x.name === framing.slice(6));
    if (j >= 0)
      return {
        centre: translationOf(world, 16 * j),
        radius: jointRadius(loaded, j, stature),
        from: jointSide(loaded, j),
      };
  }
  return whole;
}

/** Bone of a joint; one that stands between bones, such as a twist joint, counts to the bone above it. */
function boneOf({ character, humanoid }: Loaded, joint: number): string {
  for (let j = joint; humanoid && j !== NO_JOINT; j = character.skeleton!.joints[j]!.parent)
    if (humanoid.boneOfJoint[j]) return humanoid.boneOfJoint[j]!;
  return "";
}

function jointRadius(loaded: Loaded, joint: number, stature: number): number {
  const bone = boneOf(loaded, joint);
  if (/Thumb|Index|Middle|Ring|Little/.test(bone)) return 0.028 * stature;
  if (/Eye|jaw/.test(bone)) return 0.06 * stature;
  if (/Hand|Foot|Toes/.test(bone)) return 0.075 * stature;
  if (/UpperLeg|hips|spine|hest|UpperArm|Shoulder/.test(bone)) return 0.16 * stature;
  return 0.115 * stature;
}

/** The side a joint is best seen from: limbs from outside and in front, the trunk from in front. */
function jointSide(loaded: Loaded, joint: number): Vec3 {
  const bone = boneOf(loaded, joint);
  const out = bone.startsWith("right") ? -1 : bone.startsWith("left") ? 1 : 0.25;
  return normalize(/Leg|Foot|Toes/.test(bone) ? [0.9 * out, 0.05, 0.5] : [0.45 * out, 0.18, 1]);
}

const SIDES: readonly Vec3[] = [FRONT, [1, 0.1, 0.4], [-1, 0.1, 0.4], [0, 0.3, -1], [0, 1, 0.3], [0, -1, 0.3]];
/** Farther off than this nothing stands in the way of a close look (metres). */
const CLEAR = 0.6;

/** View of a finding's vertices: along their mean normal, or from the first side from which nothing hides them. */
export function viewOfPlace(place: ShownPlace, loaded: Loaded, deformed: Deformed): View | null {
  const p = loaded.character.parts.findIndex((x) => x.name === place.part);
  if (p < 0 || place.vertices.length === 0) return null;
  const P = deformed.positions[p]!;
  const N = deformed.normals[p]!;
  const points = place.vertices
    .filter((v) => 3 * v < P.length)
    .map((v): Vec3 => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!]);
  if (!points.length) return null;
  const centre = scale(points.reduce(add), 1 / points.length);
  const normal = normalize(
    place.vertices.reduce<Vec3>((n, v) => add(n, [N[3 * v] ?? 0, N[3 * v + 1] ?? 0, N[3 * v + 2] ?? 0]), [0, 0, 0]),
  );
  const spread = Math.max(...points.map((q) => length(sub(q, centre))));
  const own = normalize(add(normal, scale(FRONT, 0.35)));
  const from = [own, ...SIDES.map(normalize)].find((d) => !hidden(centre, d, loaded, deformed)) ?? own;
  return { centre, radius: Math.max(place.least ?? 0.045, 2.2 * spread), from };
}

/** Does any opaque surface lie within reach on the way from a point along a unit direction? Moeller & Trumbore 1997. */
function hidden(point: Vec3, d: Vec3, loaded: Loaded, deformed: Deformed): boolean {
  const o = add(point, scale(d, 0.004));
  return loaded.character.parts.some((part, p) => {
    if (part.kind === "lash" || part.kind === "tear line" || part.kind === "brow") return false;
    const P = deformed.positions[p]!;
    const T = loaded.rig.triangles[p]!;
    for (let t = 0; t < T.length; t += 3) {
      const a = 3 * T[t]!;
      const b = 3 * T[t + 1]!;
      const c = 3 * T[t + 2]!;
      const [e1x, e1y, e1z] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
      const [e2x, e2y, e2z] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
      const [hx, hy, hz] = [d[1] * e2z - d[2] * e2y, d[2] * e2x - d[0] * e2z, d[0] * e2y - d[1] * e2x];
      const det = e1x * hx + e1y * hy + e1z * hz;
      if (Math.abs(det) < 1e-14) continue;
      const [sx, sy, sz] = [o[0] - P[a]!, o[1] - P[a + 1]!, o[2] - P[a + 2]!];
      const u = (sx * hx + sy * hy + sz * hz) / det;
      if (u < 0 || u > 1) continue;
      const [qx, qy, qz] = [sy * e1z - sz * e1y, sz * e1x - sx * e1z, sx * e1y - sy * e1x];
      const v = (d[0] * qx + d[1] * qy + d[2] * qz) / det;
      if (v < 0 || u + v > 1) continue;
      const at = (e2x * qx + e2y * qy + e2z * qz) / det;
      if (at > 0 && at < CLEAR) return true;
    }
    return false;
  });
}

/** Camera position for a view at a given width over height. */
export function cameraFor(view: View, aspect: number): { position: Vec3; target: Vec3 } {
  const half = (FIELD_OF_VIEW * Math.PI) / 360;
  const distance = (1.06 * view.radius) / Math.sin(Math.min(half, Math.atan(Math.tan(half) * aspect)));
  return { position: add(view.centre, scale(view.from, distance)), target: view.centre };
}
