import type { Vec3 } from "../../../core/math/vec3";
import { normalAt } from "../head/headForm";
import { BAG_END, type HeadPlace, type Side } from "../head/headTags";
import { worldToHead } from "../placement";
import type { Skin } from "../skin/buildSkin";
import { headPlaceOf } from "../skin/skinTags";

/**
 * Where a skin vertex lies for the face shapes: everything on the left half, head units. Shapes are written against
 * this.
 */
export interface FacePlace {
  readonly p: Vec3;
  /** Side the vertex really is on. */
  readonly side: Side;
  readonly normal: Vec3;
  /** Its zone of the head; null below the jaw. */
  readonly head: HeadPlace | null;
  /** Its place by the mouth; null when it is far from it. */
  readonly mouth: MouthPlace | null;
}

export interface MouthPlace {
  /** On the lips or inside the mouth; else on the skin round it. */
  readonly onLip: boolean;
  /** 0 in the middle, 1 at the corner. */
  readonly t: number;
  /** 1 upper lip, 0 lower lip. */
  readonly upper: number;
  /** Share of the way from the lip's border (0) to the seam (1). */
  readonly toSeam: number;
  /** How much it follows the lips: the mouth's lining fades with depth. */
  readonly follows: number;
  /** Distance from the lip's border on the skin. */
  readonly off: number;
  /** Height above the seam, and distance from the middle. */
  readonly above: number;
  readonly x: number;
  readonly ring: number;
}

/** Landmarks of the left half of the face. */
export const MARK = {
  wing: [14, -40, 93],
  wingSide: [17, -33, 85],
  noseTip: [0, -38, 101],
  chin: [0, -95, 91],
  browHead: [9.5, 16, 92],
  browFold: [4.6, 18, 94],
  underEye: [32, -12, 80],
  cheekbone: [42, -26, 75],
  hollow: [40, -60, 67],
  corner: [25, -66.5, 83],
} as const satisfies Record<string, Vec3>;

const TO_SEAM: Readonly<Record<number, number>> = { 4: 0, 5: 0.2, 6: 0.48, 7: 0.78 };
const FOLLOWS: Readonly<Record<number, number>> = { 10: 0.97, 11: 0.72, 12: 0.3, 13: 0.06, 14: 0, [BAG_END]: 0 };
/** Skin farther than this from the lips' border has no place by the mouth. */
const MOUTH_REACH = 45;

export function facePlaces(skin: Skin): FacePlace[] {
  const points = skin.points.map(worldToHead);
  const border = skin.head.mouthRings[4]!;
  const seam = skin.head.mouthRings[8]!;
  const last = border.length - 1;
  const seamHeight = (k: number): number => (points[seam[k]!]![1] + points[seam[last - k]!]![1]) / 2;
  const tOf = (v: number): number => (headPlaceOf(skin.tags[v]!) as Extract<HeadPlace, { zone: "mouth" }>).t;
  const stations = border.map((v, k) => ({
    p: points[v]!,
    t: tOf(v),
    upper: k < last / 2 ? 1 : k > last / 2 ? 0 : 0.5,
    above: points[v]![1] - seamHeight(k),
    x: points[v]![0],
  }));
  const seamAt = (t: number): number => {
    const place = Math.min(last / 2, Math.max(0, (t * last) / 2));
    const k = Math.floor(place);
    return seamHeight(k) + (seamHeight(Math.min(last / 2, k + 1)) - seamHeight(k)) * (place - k);
  };
  return points.map((at, v): FacePlace => {
    const head = headPlaceOf(skin.tags[v]!);
    const p: Vec3 = [Math.abs(at[0]), at[1], at[2]];
    return {
      p,
      head,
      side: skin.tags[v]!.side === 0 ? 0 : (Math.sign(at[0]) as Side),
      normal: p[2] > -40 ? normalAt(p) : [1, 0, 0],
      mouth: mouthPlace(p, head, stations, seamAt),
    };
  });
}

interface Station {
  readonly p: Vec3;
  readonly t: number;
  readonly upper: number;
  readonly above: number;
  readonly x: number;
}

function mouthPlace(
  p: Vec3,
  head: HeadPlace | null,
  stations: readonly Station[],
  seamAt: (t: number) => number,
): MouthPlace | null {
  if (head?.zone === "mouth" && head.layer !== "skin")
    return {
      onLip: true,
      t: head.t,
      upper: head.throat !== null ? 1 - head.throat : head.upper ? 1 : 0,
      toSeam: TO_SEAM[head.ring] ?? 1,
      follows: FOLLOWS[head.ring] ?? 1,
      off: 0,
      above: p[1] - seamAt(head.t),
      x: p[0],
      ring: head.ring,
    };
  if (p[2] <= 10 || p[1] >= 5 || p[1] <= -150) return null;
  // the nearest border points, blended the more softly the farther they are
  const distances = stations.map((s) => Math.hypot(p[0] - s.p[0], p[1] - s.p[1], p[2] - s.p[2]));
  const nearest = Math.min(...distances);
  if (nearest >= MOUTH_REACH) return null;
  const soft = 1 + 0.5 * nearest;
  const shares = distances.map((d) => Math.exp(-(d * d - nearest * nearest) / (2 * soft * soft)));
  const total = shares.reduce((a, b) => a + b, 0);
  const blend = (of: (s: Station) => number): number =>
    stations.reduce((sum, s, k) => sum + shares[k]! * of(s), 0) / total;
  return {
    onLip: false,
    t: blend((s) => s.t),
    upper: blend((s) => s.upper),
    toSeam: 0,
    follows: 1,
    off: nearest,
    above: blend((s) => s.above),
    x: blend((s) => s.x),
    ring: 0,
  };
}
