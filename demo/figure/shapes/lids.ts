import { degrees, radians, type Vec3 } from "../../../core/math/vec3";
import { EYE_CENTRE, LID_SHELL, EYE_RADIUS, onHead } from "../head/headForm";
import type { HeadPlace } from "../head/headTags";
import {
  creaseAt,
  INNER_RINGS,
  lidEdge,
  lidMargin,
  LID_RINGS,
  openingShare,
  turnedBack,
  WIDEST_OPENING,
} from "../head/lidShape";
import { corneaBulge } from "../parts/eyes";
import type { FacePlace } from "./facePlaces";
import { STILL } from "./movers";

type LidPlace = Extract<HeadPlace, { zone: "lid" }>;

/** How the lids of one eye move: edges in head units at the widest place; everything else follows. */
export interface LidMove {
  /** The upper edge comes down, the lower edge up. */
  readonly upperDown: number;
  readonly lowerUp: number;
  /** Both shift sideways, outward. */
  readonly aside?: number;
  /** 0 open to 1 shut: shut edges may touch. */
  readonly shut?: number;
  /** Direction of the gaze; the cornea pushes the lids out. */
  readonly gaze?: Vec3;
}
/** Directions of the gaze, yaw (outward positive) and pitch in degrees. */
export const gazeAt = (yaw: number, pitch: number): Vec3 => [
  Math.sin(radians(yaw)) * Math.cos(radians(pitch)),
  Math.sin(radians(pitch)),
  Math.cos(radians(yaw)) * Math.cos(radians(pitch)),
];

const fromEye = (p: Vec3): Vec3 => [p[0] - EYE_CENTRE[0], p[1] - EYE_CENTRE[1], p[2] - EYE_CENTRE[2]];
const onSphere = (out: Vec3, radius: number): Vec3 => {
  const l = Math.hypot(...out);
  return [
    EYE_CENTRE[0] + (out[0] / l) * radius,
    EYE_CENTRE[1] + (out[1] / l) * radius,
    EYE_CENTRE[2] + (out[2] / l) * radius,
  ];
};
/** Radius of the eyeball in a direction, its cornea turned with the gaze. */
function eyeSurface(out: Vec3, gaze: Vec3): number {
  const cosine = (out[0] * gaze[0] + out[1] * gaze[1] + out[2] * gaze[2]) / Math.hypot(...out);
  return EYE_RADIUS + corneaBulge(degrees(Math.acos(Math.min(1, cosine))));
}

/** Movement of a lid's place: on its shell about the eyeball, and never into it. */
export function lids(c: FacePlace, move: LidMove): Vec3 {
  if (c.head?.zone !== "lid") return STILL;
  const moved = lidPoint(c.p, c.head, move);
  const rest = lidPoint(c.p, c.head, { upperDown: 0, lowerUp: 0 });
  let q: Vec3 = [c.p[0] + moved[0] - rest[0], c.p[1] + moved[1] - rest[1], c.p[2] + moved[2] - rest[2]];
  if (c.head.ring >= LID_RINGS - 1) {
    const out = fromEye(q);
    const least = eyeSurface(out, move.gaze ?? [0, 0, 1]) + (c.head.ring > LID_RINGS ? 0.33 : 0.48);
    if (Math.hypot(...out) < least) q = onSphere(out, least);
  }
  return [q[0] - c.p[0], q[1] - c.p[1], q[2] - c.p[2]];
}

function lidPoint(p: Vec3, lid: LidPlace, { upperDown, lowerUp, aside = 0, shut = 0 }: LidMove): Vec3 {
  const share = openingShare(lid.s);
  const rest = lidMargin(lid);
  const dy = lid.upper ? -upperDown * share : lowerUp * share;
  const edge: [number, number] = [rest[0] + aside * share, rest[1] + dy];
  if (lid.inner) return innerPoint(lid, rest, edge);
  if (lid.ring === LID_RINGS) return lidEdge(edge, lid, true, 1 - shut);
  // skin above the margin slides on the form, less and less toward the window
  const follows = lid.upper
    ? Math.pow(Math.min(1, Math.max(0, (lid.share - 0.12) / 0.88)), 1.15)
    : Math.pow(lid.share, 1.5);
  const slid: Vec3 = [p[0] + aside * share * follows, p[1] + dy * follows, p[2]];
  const once = onHead(slid, 6);
  const q = onHead([once[0], once[1] * 0.3 + slid[1] * 0.7, once[2]], 3);
  if (!lid.upper) return q;
  const depth = creaseAt(lid.ring, lid.s) * (1 - 0.45 * Math.min(1, Math.max(0, upperDown / WIDEST_OPENING)));
  const out = fromEye(q);
  const l = Math.hypot(...out);
  return [q[0] - (out[0] / l) * depth, q[1] - (out[1] / l) * depth, q[2] - (out[2] / l) * depth];
}

/** Inner rings follow the margin's travel by their share, on their own sphere. */
function innerPoint(lid: LidPlace, rest: readonly [number, number], edge: readonly [number, number]): Vec3 {
  const ring = lid.ring - LID_RINGS - 2;
  const now = lidEdge(edge, lid, false);
  if (ring < 0) return now;
  const before = lidEdge(rest, lid, false);
  const { above, follows } = INNER_RINGS[ring]!;
  const back = turnedBack(before, ring);
  const travelled: Vec3 = [
    back[0] + (now[0] - before[0]) * follows,
    back[1] + (now[1] - before[1]) * follows,
    back[2] + (now[2] - before[2]) * follows,
  ];
  return onSphere(fromEye(travelled), LID_SHELL + above);
}
