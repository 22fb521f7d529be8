import { allocateDeformed, deform, withShapes, type Rig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { computeNormals } from "../deform/computeNormals";
import { barycentric } from "../surface/carryMovement";
import { buildBvh, closestPoint } from "../math/bvh";
import { clothThrough, makeClothGauge, type ClothGauge } from "../measure/clothThrough";
import { add, length, scale, type Vec3 } from "../math/vec3";
import { neighboursOf, type Neighbours } from "../model/neighbours";
import { placesOf } from "../model/places";
import type { Driver, Shape, ShapeDelta } from "../model/character";
import { drivenByTurn } from "../model/drivenByTurn";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { withTrialShape } from "./correctiveFromSculpt";
import { inverseSkin } from "./inverseSkin";

export interface PushedCloth {
  readonly shape: Shape;
  readonly driver: Driver;
  /** Deepest that skin stands out of the garment at the angle, before and after, mm. */
  readonly beforeMm: number;
  readonly afterMm: number;
}

/** Cloth that is brought over the skin lies at least this high, metres. */
const OVER = 0.0015;
/** Cloth farther from the skin than this at rest hangs free, metres. */
const NEAR = 0.05;
/** How far round the skin that stands out the cloth goes along, edges, and what share of it each edge farther. */
const EDGES = 7;
const FADE = 0.82;
const ROUNDS = 8;
/** Rounds in which the ways that cloth is raised are evened from vertex to vertex: both are tried. */
const EVENED = [0, 6] as const;
/** Cloth is raised by no more than this over its height at rest, metres. */
const MOST = 0.03;
/** Share of the angle at which the push sets in. */
const SETS_IN = 0.35;
const TRIAL = "\u0000push";

/** Where a vertex of the cloth lies over the skin at rest: a triangle, shares of its corners, and the height. */
interface Seat {
  readonly corners: readonly [number, number, number];
  readonly shares: readonly [number, number, number];
  readonly height: number;
}

/** Where cloth is pushed: a garment (index of the part) at an angle of a motion, and the name of what is made. */
export interface ClothPlace {
  readonly garment: number;
  readonly motion: JointMotion;
  readonly degrees: number;
  readonly method: Moment["method"];
  readonly name: string;
}

/**
 * A corrective that brings a garment over the skin where skin comes through it at one angle of a motion: the cloth
 * round that place lies in the pose as high over its own skin as it did at rest,
 * fading out over the cloth beside it, and is returned to rest. Null when no skin comes through, or nothing helps.
 */
export const pushCloth = (rig: Rig, place: ClothPlace): PushedCloth | null => pushes(rig, place)[0] ?? null;

/** The same for each way in which cloth can be raised, the one that leaves least at the angle first. */
export const pushes = (rig: Rig, place: ClothPlace): PushedCloth[] =>
  EVENED.flatMap((rounds) => pushedEvenly(rig, place, rounds) ?? []).sort((a, b) => a.afterMm - b.afterMm);

function pushedEvenly(rig: Rig, place: ClothPlace, rounds: number): PushedCloth | null {
  const { garment, name } = place;
  const gauge = makeClothGauge(rig, garment);
  if (!gauge) return null;
  const look = looker(rig, gauge, place);
  const none: Shape = { name, label: name, deltas: [] };
  const plain = look(none);
  if (plain.vertices.length === 0) return null;
  const beforeMm = 1000 * plain.depths[0]!;
  const coverOf = new Map(gauge.covered.map((c) => [c.vertex, c.corners]));
  const pulled = new Set<number>();
  let best = { shape: none, mm: beforeMm };
  const wear = wornOn(rig, gauge, place, plain.posed, rounds);
  // cloth of a wider net than the skin cuts through its curves: where skin is still out, it lies higher
  const higher = new Float32Array(rig.character.parts[garment]!.positions.length / 3);
  let now: Pick<typeof plain, "vertices" | "depths"> = plain;
  for (let round = 0; round < ROUNDS && now.vertices.length > 0; round++) {
    const raise = new Float32Array(higher.length);
    now.vertices.forEach((v, k) => {
      for (const g of coverOf.get(v) ?? []) {
        pulled.add(g);
        if (round > 0) raise[g] = Math.max(raise[g]!, now.depths[k]!);
      }
    });
    for (let g = 0; g < higher.length; g++) higher[g] = Math.min(MOST, higher[g]! + raise[g]!);
    const shape = { ...none, deltas: [wear(pulled, higher)] };
    now = look(shape);
    const mm = 1000 * (now.depths[0] ?? 0);
    if (mm < best.mm) best = { shape, mm };
  }
  if (best.shape === none) return null;
  return { shape: best.shape, beforeMm, afterMm: best.mm, driver: driverOf(place) };
}

type Posed = ReturnType<typeof allocateDeformed>;

/** Reads where skin stands out of the garment in the pose, with a shape at full. Each look overwrites the last pose. */
function looker(
  rig: Rig,
  gauge: ClothGauge,
  { motion, degrees, method }: ClothPlace,
): (shape: Shape) => ReturnType<typeof clothThrough> & { posed: Posed } {
  const moment: Moment = { ...REST_MOMENT, method, pose: motionPose(motion, degrees), drivers: true };
  const out = allocateDeformed(rig);
  return (shape) => {
    const posed = deform(
      withShapes(rig, withTrialShape(rig.character, shape.deltas, TRIAL)),
      { ...moment, weights: { [TRIAL]: 1 } },
      { out },
    );
    return { ...clothThrough(gauge, posed.positions), posed };
  };
}

/** How a garment moves at rest so that, round what is pulled, it lies over its skin in the pose. */
function wornOn(
  rig: Rig,
  gauge: ClothGauge,
  { garment, method }: ClothPlace,
  posed: Posed,
  rounds: number,
): (pulled: ReadonlySet<number>, higher: Float32Array) => ShapeDelta {
  const part = rig.character.parts[garment]!;
  const seats = seatsOf(rig, gauge);
  const [P, N] = [posed.positions[gauge.body]!.slice(), posed.normals[gauge.body]!.slice()];
  const Q = posed.positions[garment]!.slice();
  const matrices = posed.matrices[garment] ?? null;
  const ways = evened(waysOut(seats, N), neighboursOf(part), rounds);
  return (pulled, higher) => {
    const lying = wrapped(seats, P, ways, higher);
    const share = spread(part, pulled);
    const moves = new Float32Array(Q.length);
    for (let i = 0; i < Q.length; i++)
      moves[i] = Number.isFinite(lying[i]!) ? share[Math.floor(i / 3)]! * (lying[i]! - Q[i]!) : 0;
    const rest = inverseSkin(moves, part.skin, matrices, method);
    const vertices = Uint32Array.from(
      [...share.keys()].filter((g) => Math.hypot(moves[3 * g]!, moves[3 * g + 1]!, moves[3 * g + 2]!) > 1e-5),
    );
    const deltas = Float32Array.from(
      [...vertices].flatMap((g) => [rest.deltas[3 * g]!, rest.deltas[3 * g + 1]!, rest.deltas[3 * g + 2]!]),
    );
    return { part: garment, vertices, deltas };
  };
}

const driverOf = ({ motion, degrees, method, name }: ClothPlace): Driver => ({
  shape: name,
  ...drivenByTurn(motion, Math.round(SETS_IN * degrees), Math.round(degrees)),
  method,
});

/** Seats of a garment's vertices on the skin; null for those that hang free. */
function seatsOf({ character, triangles }: Rig, { body, garment }: ClothGauge): (Seat | null)[] {
  const P = character.parts[body]!.positions;
  const bvh = buildBvh(triangles[body]!, P);
  const normals = new Float32Array(P.length);
  computeNormals(P, { quads: new Uint32Array(0), triangles: triangles[body]! }, placesOf(P), normals);
  const G = character.parts[garment]!.positions;
  return Array.from({ length: G.length / 3 }, (_, g): Seat | null => {
    const near = closestPoint(bvh, P, G[3 * g]!, G[3 * g + 1]!, G[3 * g + 2]!, NEAR);
    if (near.triangle < 0) return null;
    const corners = [0, 1, 2].map((k) => triangles[body]![3 * near.triangle + k]!) as [number, number, number];
    const shares = barycentric(P, corners, near);
    const n = mixed(normals, corners, shares);
    const height = (G[3 * g]! - near.x) * n[0] + (G[3 * g + 1]! - near.y) * n[1] + (G[3 * g + 2]! - near.z) * n[2];
    return { corners, shares, height };
  });
}

const mixed = (
  values: ArrayLike<number>,
  corners: readonly number[],
  shares: readonly number[],
): [number, number, number] =>
  [0, 1, 2].map((c) => corners.reduce((sum, v, i) => sum + shares[i]! * values[3 * v + c]!, 0)) as [
    number,
    number,
    number,
  ];

/** Where the cloth would lie in a pose, were it as high over its own skin as at rest; NaN for what hangs free. */
function wrapped(
  seats: readonly (Seat | null)[],
  P: Float32Array,
  ways: readonly (Vec3 | null)[],
  higher: Float32Array,
): Float32Array {
  const out = new Float32Array(3 * seats.length).fill(NaN);
  seats.forEach((seat, g) => {
    if (!seat) return;
    const p = mixed(P, seat.corners, seat.shares);
    for (let c = 0; c < 3; c++) out[3 * g + c] = p[c]! + (Math.max(seat.height, OVER) + higher[g]!) * ways[g]![c]!;
  });
  return out;
}

/** The way out of the skin under each vertex of the cloth, unit vectors; null for what hangs free. */
const waysOut = (seats: readonly (Seat | null)[], normals: Float32Array): (Vec3 | null)[] =>
  seats.map((seat) => seat && unit(mixed(normals, seat.corners, seat.shares)));

/** Ways that turn gently from vertex to vertex: in a fold the skin's own ones would lay the cloth across itself. */
function evened(ways: readonly (Vec3 | null)[], { start, list }: Neighbours, rounds: number): readonly (Vec3 | null)[] {
  for (let round = 0; round < rounds; round++)
    ways = ways.map((n, g) => {
      if (!n) return n;
      let sum = n;
      for (let k = start[g]!; k < start[g + 1]!; k++) sum = add(sum, ways[list[k]!] ?? ZERO);
      return unit(sum);
    });
  return ways;
}
const ZERO: Vec3 = [0, 0, 0];
const unit = (v: Vec3): Vec3 => scale(v, 1 / (length(v) || 1));

/** 1 where the cloth is pulled, fading edge by edge round it. */
function spread(part: Parameters<typeof neighboursOf>[0], pulled: ReadonlySet<number>): Float32Array {
  const { start, list } = neighboursOf(part);
  let share = new Float32Array(part.positions.length / 3);
  for (const g of pulled) share[g] = 1;
  for (let e = 0; e < EDGES; e++) {
    const next = share.slice();
    for (let g = 0; g < share.length; g++)
      for (let k = start[g]!; k < start[g + 1]!; k++) next[g] = Math.max(next[g]!, FADE * share[list[k]!]!);
    share = next;
  }
  // what is left at the rim is let out softly
  const rim = FADE ** EDGES;
  return share.map((s) => Math.max(0, (s - rim) / (1 - rim)));
}
