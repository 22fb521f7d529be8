import { radians, type Vec3 } from "../../../core/math/vec3";
import { smoothstep } from "../../modelling/blend";
import { BAG_END } from "../head/headTags";
import { LID_RINGS } from "../head/lidShape";
import { archDepth, archSlope } from "../parts/teeth";
import { HEAD_UNIT, worldToHead } from "../placement";
import type { Skin } from "../skin/buildSkin";
import { headPlaceOf } from "../skin/skinTags";
import { facePlaces, type FacePlace } from "./facePlaces";
import type { FaceUnit } from "./faceUnit";
import { makeFollowers } from "./followers";
import { jawMove, withJaw, type JawPose } from "./jaw";
import { STILL } from "./movers";
import { BROW_UNITS } from "./units/brows";
import { EYE_UNITS } from "./units/eyes";
import { JAW_UNITS, TONGUE_UNITS } from "./units/jaw";
import { MIDFACE_UNITS } from "./units/midface";
import { MOUTH_UNITS } from "./units/mouth";

export const FACE_UNITS: readonly FaceUnit[] = [
  ...BROW_UNITS,
  ...EYE_UNITS,
  ...MIDFACE_UNITS,
  ...MOUTH_UNITS,
  ...JAW_UNITS,
  ...TONGUE_UNITS,
];
export type UnitSide = "left" | "right" | "both";
/** Movement of every vertex of some parts, by part name; metres, rest space. */
export type FaceShape = ReadonlyMap<string, readonly Vec3[]>;

/** Makes the shapes of one skin and of the parts that follow it. The builder throws for a unit that is not there. */
export function faceShapeBuilder(skin: Skin): (unit: string, side: UnitSide) => FaceShape {
  const places = facePlaces(skin);
  const rest = skin.points.map(worldToHead);
  const soft = softPlaces(skin);
  const neighbours = skin.neighbours.map((set) => [...set]);
  const follow = makeFollowers(skin, rest);
  return (id, side) => {
    const unit = FACE_UNITS.find((u) => u.id === id);
    if (!unit) throw new Error(`faceShapeBuilder: no unit ${id}`);
    const both = skinMovement(unit, places, soft, neighbours);
    const moved =
      side === "both"
        ? both
        : both.map((d, v): Vec3 => {
            if (d === STILL) return STILL;
            const share = sideShare(rest[v]![0], side);
            return [d[0] * share, d[1] * share, d[2] * share];
          });
    return new Map(
      [...follow(moved, unit)].map(([part, list]) => [
        part,
        list.map((d): Vec3 => (d === STILL ? STILL : [d[0] * HEAD_UNIT, d[1] * HEAD_UNIT, d[2] * HEAD_UNIT])),
      ]),
    );
  };
}

/** Share of one half of a shape: a smooth seam of 14 across the middle. */
const sideShare = (x: number, side: "left" | "right"): number => smoothstep(-7, 7, side === "left" ? x : -x);

const SOFTENING_ROUNDS = 5;
/** No unit moves skin below this height, head units. */
const LOWEST = -250;

/** Displacement of every skin vertex, head units, on the side where the vertex is. */
function skinMovement(
  unit: FaceUnit,
  places: readonly FacePlace[],
  soft: readonly SoftPlace[],
  neighbours: readonly (readonly number[])[],
): Vec3[] {
  let moves = places.map((c): Vec3 => {
    if (c.p[1] < LOWEST) return STILL;
    const d = offTeeth(c, unit.move(c), unit.jaw, unit.usedWith);
    return [c.side === 0 ? (unit.lopsided ? d[0] : 0) : d[0] * c.side, d[1], d[2]];
  });
  for (let round = 0; round < SOFTENING_ROUNDS; round++) {
    const before = moves;
    moves = before.slice();
    for (const { v, share } of soft) {
      const around = neighbours[v]!;
      let [x, y, z] = [0, 0, 0];
      for (const n of around) {
        const d = before[n]!;
        x += d[0];
        y += d[1];
        z += d[2];
      }
      const own = before[v]!;
      moves[v] = [
        own[0] + share * (x / around.length - own[0]),
        own[1] + share * (y / around.length - own[1]),
        own[2] + share * (z / around.length - own[2]),
      ];
    }
  }
  return moves;
}

interface SoftPlace {
  readonly v: number;
  readonly share: number;
}
/** The pinched places, corners of eyes and mouth, where displacements are evened out. */
function softPlaces(skin: Skin): SoftPlace[] {
  return skin.tags.flatMap((tag, v) => {
    const place = headPlaceOf(tag);
    let share = 0;
    if (place?.zone === "lid" && !place.inner && place.ring >= 2 && place.ring < LID_RINGS)
      share = 0.65 * Math.max(1 - smoothstep(0.08, 0.24, place.s), smoothstep(0.8, 0.93, place.s));
    else if (place?.zone === "mouth" && place.ring >= 2 && place.ring <= 10 && place.ring !== BAG_END)
      share = 0.5 * smoothstep(0.7, 0.95, place.t);
    return share > 0 ? [{ v, share }] : [];
  });
}

// ---- lips stay off the teeth
/** Heights of the crowns' fronts, and how much flesh lies between the arch and the lip's surface. */
const CROWNS = { upper: { from: -57, to: -71.4 }, lower: { from: -67.8, to: -84 } };
const FLESH = { behindSeam: 1.3, red: 1.6 };
const DEEPEST = 9;

/**
 * Pushes a lip's place out of the teeth. @param own the shape's own jaw pose. @param usedWith the jaw pose it is made
 * for, when that is not part of it.
 */
function offTeeth(c: FacePlace, d: Vec3, own: JawPose | undefined, usedWith: JawPose | undefined): Vec3 {
  const m = c.mouth;
  if (!m?.onLip || m.ring < 5 || m.ring > 11) return d;
  const pose = own ?? usedWith;
  const before = usedWith && !own ? withJaw(c, usedWith) : STILL;
  const q: [number, number, number] = [c.p[0] + d[0] + before[0], c.p[1] + d[1] + before[1], c.p[2] + d[2] + before[2]];
  const flesh = m.ring > 8 ? FLESH.behindSeam : FLESH.red;
  for (const upper of [true, false]) {
    const { from, to } = upper ? CROWNS.upper : CROWNS.lower;
    const jaw = !upper && pose ? jawMove([0, -74, 80], pose) : STILL;
    if (q[1] > from + jaw[1] || q[1] < to + jaw[1]) continue;
    const x = Math.min(24, Math.abs(q[0]));
    const slope = archSlope(x);
    const steep = Math.hypot(1, slope);
    const tilt = !upper && pose?.open ? (q[1] - jaw[1] + 74) * Math.sin(radians(pose.open)) : 0;
    // what lies inside already at rest may stay so
    const atRest = Math.min(0, (c.p[2] - archDepth(Math.min(24, c.p[0]), upper)) / steep - flesh);
    const clear = (q[2] - jaw[2] - tilt - archDepth(x, upper)) / steep - flesh - atRest;
    if (clear < 0 && clear > -DEEPEST) {
      q[0] += (slope / steep) * clear;
      q[2] -= clear / steep;
    }
  }
  return [q[0] - c.p[0] - before[0], q[1] - c.p[1] - before[1], q[2] - c.p[2] - before[2]];
}
