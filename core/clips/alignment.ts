import { multiplyQuat, rotate, conjugate, fromAxes, fromAxisAngle } from "../math/quat";
import { add, cross, degrees, dot, length, normalize, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import { AXES, AXIS_VECTORS, type Axis } from "../model/axes";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import { restStanding, standing, type Motion, type Standing } from "./motion";

/** How the figure of a movement stands in its file, and the turns that bring it to +Y up, facing +Z. */
export interface Alignment {
  /** Axes of the file at rest: out of the crown, and the way the toes point. */
  readonly up: Axis;
  readonly facing: Axis;
  /** Brings the rest to +Y up, facing +Z. */
  readonly rest: Quat;
  /** Brings the movement to +Y up; it faces +Z where it begins, to the nearest quarter turn. */
  readonly motion: Quat;
  /** What was set right, as sentences. */
  readonly told: readonly string[];
}

/** A figure's own axes at a moment, unit vectors of the file's space; null where its joints do not tell. */
interface BodyAxes {
  readonly up: Vec3;
  readonly front: Vec3;
}

/** Crown over feet and the way the toes point, from places of bones alone. */
function bodyAxes(at: (bone: string) => Vec3 | null, lengthwise: "whole" | "trunk"): BodyAxes | null {
  const middle = (a: Vec3 | null, b: Vec3 | null): Vec3 | null => (a && b ? scale(add(a, b), 0.5) : (a ?? b));
  const hips = middle(at("leftUpperLeg"), at("rightUpperLeg")) ?? at("hips");
  const top = at("neck") ?? at("head") ?? at("upperChest") ?? at("chest");
  const feet = middle(at("leftFoot"), at("rightFoot"));
  const low = lengthwise === "whole" ? (feet ?? hips) : hips;
  if (!top || !low) return null;
  const up = normalize(sub(top, low));
  const flat = (v: Vec3): Vec3 => sub(v, scale(up, dot(v, up)));
  const votes: Vec3[] = [];
  for (const side of ["left", "right"]) {
    const [foot, toes] = [at(`${side}Foot`), at(`${side}Toes`)];
    if (lengthwise === "whole" && foot && toes && length(sub(toes, foot)) > 1e-9)
      votes.push(normalize(flat(sub(toes, foot))));
  }
  const pairs = ["UpperLeg", "UpperArm"].map((b) => [at(`left${b}`), at(`right${b}`)] as const);
  for (const [left, right] of pairs)
    // left x up points ahead of a figure: right-handed, +X left, +Y up, +Z ahead
    if (left && right && length(sub(left, right)) > 1e-9) votes.push(normalize(cross(normalize(sub(left, right)), up)));
  const sum = votes.reduce(add, [0, 0, 0] as Vec3);
  return votes.length && length(sum) > 1e-6 ? { up, front: normalize(flat(sum)) } : null;
}

const nearestAxis = (v: Vec3): Axis =>
  AXES.reduce((a, b) => (dot(AXIS_VECTORS[b], v) > dot(AXIS_VECTORS[a], v) ? b : a));

/** The turn that brings one pair of square axes to +Y up and +Z ahead. */
function toOurs(up: Vec3, front: Vec3): Quat {
  // columns of the frame are where +X, +Y and +Z stand in the file
  return conjugate(fromAxes(cross(up, front), up, front));
}

/** The axes of the file nearest to the figure's own; front is taken square to up. */
function snapped({ up, front }: BodyAxes): { up: Axis; front: Axis; turn: Quat } {
  const u = nearestAxis(up);
  const ahead = AXES.filter((a) => a[1] !== u[1]).reduce((a, b) =>
    dot(AXIS_VECTORS[b], front) > dot(AXIS_VECTORS[a], front) ? b : a,
  );
  return { up: u, front: ahead, turn: toOurs(AXIS_VECTORS[u], AXIS_VECTORS[ahead]) };
}

/** Of so many moments the figure's axes are read. */
const MOMENTS = 60;
/** Trunk and axis agree within this, cosine (45 degrees). */
const AGREES = 0.707;
/** Share of moments that must agree on another way up before the movement is turned. */
const MOST = 0.8;

/**
 * How a movement stands. The rest tells the figure's own axes; of the movement, where the trunk points nearly always.
 * A movement whose trunk lies along one and the same axis throughout, while the figure's rest stands upright, was
 * written for another way up and is stood up; `stand: false` leaves it lying. Null where the joints do not tell.
 */
export function alignmentOf(motion: Motion, map: HumanoidMap, stand = true): Alignment | null {
  const from =
    (s: Standing) =>
    (bone: string): Vec3 | null => {
      const j = map.jointOfBone.get(bone);
      return j === undefined ? null : s.places[j]!;
    };
  const atRest = bodyAxes(from(restStanding(motion.skeleton)), "whole");
  if (!atRest) return null;
  const rest = snapped(atRest);
  const told: string[] = [];
  const counts = new Map<Axis, number>();
  const room: Standing = { turns: [], places: [] };
  const frames = Array.from({ length: Math.min(MOMENTS, motion.frames) }, (_, k) =>
    Math.floor((k * motion.frames) / Math.min(MOMENTS, motion.frames)),
  );
  const seen = frames.flatMap((f) => bodyAxes(from(standing(motion, f, room)), "trunk") ?? []);
  for (const { up } of seen) {
    const axis = nearestAxis(up);
    if (dot(AXIS_VECTORS[axis], up) > AGREES) counts.set(axis, (counts.get(axis) ?? 0) + 1);
  }
  const [steady] = [...counts].filter(([, n]) => n > MOST * seen.length).map(([axis]) => axis);
  // a movement that does not tell is up where its rest is
  const up = steady ?? rest.up;
  let turn = rest.turn;
  if (up !== rest.up && stand) {
    turn = toOurs(AXIS_VECTORS[up], frontOver(up, seen[0]?.front ?? AXIS_VECTORS[rest.front]));
    if (up !== "+Y" && rest.up === "+Y") told.push("its figure lay: stood up");
  } else if (up !== rest.up) turn = rest.turn;
  else if (up !== "+Y") told.push(`its up axis is ${up.toUpperCase()}: turned to +Y`);
  // the way it faces where it begins, to the nearest quarter turn
  const first = seen[0];
  if (first) {
    const ahead = rotate(turn, first.front);
    const quarter = 90 * Math.round(degrees(Math.atan2(ahead[0], ahead[2])) / 90);
    if (quarter % 360 !== 0) {
      turn = multiplyQuat(fromAxisAngle([0, 1, 0], -quarter), turn);
      if (Math.abs(quarter) === 180) told.push("it faced away: turned round");
      else told.push(`it faced its ${quarter > 0 ? "left" : "right"}: turned to the front`);
    }
  }
  return { up, facing: rest.front, rest: rest.turn, motion: turn, told };
}

/** The axis nearest to a direction that is square to up. */
function frontOver(up: Axis, front: Vec3): Vec3 {
  const axes = AXES.filter((a) => a[1] !== up[1]).map((a) => AXIS_VECTORS[a]);
  return axes.reduce((a, b) => (dot(b, front) > dot(a, front) ? b : a));
}
