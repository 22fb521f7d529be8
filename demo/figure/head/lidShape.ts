import { radians, type Vec3 } from "../../../core/math/vec3";
import { smoothMax } from "../../modelling/blend";
import { EYE_CENTRE, LID_SHELL } from "./headForm";

/** The opening between the lids, left eye, in head units about the eyeball's centre. */
const CORNERS = { inner: [-14.1, -1.9], outer: [13.5, 1.5] } as const;
const HEIGHT = { upper: 5.45, lower: 5 };
/** Skin rings from the window round the eye to the lid's margin. */
export const LID_RINGS = 8;
/**
 * Rings inside the lid: turned back from the margin by an angle, lying above the shell, following a share of the
 * margin's travel.
 */
export const INNER_RINGS = [
  { degrees: 11, above: 0.28, follows: 0.72 },
  { degrees: 26, above: 0.25, follows: 0.66 },
  { degrees: 42, above: 0.25, follows: 0.46 },
  { degrees: 60, above: 0.25, follows: 0.2 },
  { degrees: 82, above: 0.25, follows: 0 },
] as const;
/** How deep the upper lid's crease lies at each ring; negative stands out. */
const CREASE: Readonly<Record<number, number>> = { 3: -0.15, 4: -0.4, 5: -0.55, 6: 0.95, 7: 0.2 };
export const creaseAt = (ring: number, s: number): number =>
  (CREASE[ring] ?? 0) * Math.pow(Math.sin(Math.PI * Math.min(1, Math.max(0, s))), 0.9);

/** A place of a lid's margin: upper or lower, s from the inner corner (0) to the outer (1). */
export interface MarginPlace {
  readonly upper: boolean;
  readonly s: number;
}

/** The margin seen from the front: x, y from the eyeball's centre. */
export function lidMargin({ s, upper }: MarginPlace): [x: number, y: number] {
  const x = CORNERS.inner[0] + (CORNERS.outer[0] - CORNERS.inner[0]) * s;
  const line = CORNERS.inner[1] + (CORNERS.outer[1] - CORNERS.inner[1]) * s;
  const arch = (skew: number, power: number): number =>
    Math.pow(Math.max(0, Math.sin(Math.PI * Math.pow(s, skew))), power);
  return [x, upper ? line + HEIGHT.upper * arch(0.88, 0.8) : line - HEIGHT.lower * arch(1.18, 0.88)];
}

/** How far the lids are apart at s. */
const openingAt = (s: number): number => lidMargin({ s, upper: true })[1] - lidMargin({ s, upper: false })[1];
export const WIDEST_OPENING = Math.max(...Array.from({ length: 101 }, (_, i) => openingAt(i / 100)));
/** Opening at s as a share of the widest. */
export const openingShare = (s: number): number => openingAt(s) / WIDEST_OPENING;

/** Depth of the shell at a place; beside the eyeball it goes on as a slope, lower toward the nose. */
function shellDepth(x: number, y: number): number {
  const fromAxis = x * x + y * y;
  const shell = LID_SHELL * LID_SHELL;
  const sphere = fromAxis < shell ? Math.sqrt(shell - fromAxis) : -Math.sqrt(fromAxis - shell);
  return smoothMax(sphere, (x < 0 ? 7.2 : 3.6) * Math.min(1, Math.abs(x) / 9), x === 0 ? 0.01 : 3.01);
}

/**
 * Point of the lid's edge at a place seen from the front.
 * @param outer the skin's side of the edge, else the eyeball's.
 * @param open 0 lets the two edges meet, 1 keeps the skin's side a little off the opening.
 */
export function lidEdge([x, y]: readonly [number, number], { s, upper }: MarginPlace, outer: boolean, open = 1): Vec3 {
  const middle = Math.pow(Math.max(0, Math.sin(Math.PI * Math.min(1, Math.max(0, s)))), 0.4);
  const z = shellDepth(x, y);
  const l = Math.sqrt(x * x + y * y + z * z);
  const thickness = outer ? 0.55 + 0.85 * middle : 0;
  const off = outer ? (upper ? 0.3 : -0.35) * middle * open : 0;
  return [
    EYE_CENTRE[0] + x + (x / l) * thickness,
    EYE_CENTRE[1] + y + off + (y / l) * thickness * 0.6,
    EYE_CENTRE[2] + z + (z / l) * thickness,
  ];
}

/** Point of an inner ring: the margin's point turned back round the eyeball. */
export function turnedBack(edge: Vec3, ring: number): Vec3 {
  const { degrees, above } = INNER_RINGS[ring]!;
  const [x, y, z] = [edge[0] - EYE_CENTRE[0], edge[1] - EYE_CENTRE[1], edge[2] - EYE_CENTRE[2]];
  const off = Math.sqrt(x * x + y * y) || 1;
  const angle = Math.atan2(off, z);
  const back = Math.min(angle + radians(degrees), Math.max(angle + 0.05, radians(118)));
  const r = LID_SHELL + above;
  return [
    EYE_CENTRE[0] + (x / off) * Math.sin(back) * r,
    EYE_CENTRE[1] + (y / off) * Math.sin(back) * r,
    EYE_CENTRE[2] + Math.cos(back) * r,
  ];
}
