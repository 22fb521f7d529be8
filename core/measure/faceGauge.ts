import type { Rig } from "../deform/rig";
import { IndexSet } from "../math/indexSet";
import type { Shape } from "../model/character";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { heightOverEye } from "./heightOverEye";
import { lidSamples, meanOf } from "./lidSamples";
import { readMovedSkin, skinTables, type SkinTables } from "./movedSkin";
import { lipCross, type LipGauge } from "./lipCross";
import { lidOpening, makeOpeningGauge, type OpeningGauge } from "./openings";
import { makeWalls, piercing, type Wall } from "./throughSkin";
import { shapeMeaning, shutsEye } from "../names/shapeMeaning";

/** What can go wrong where two shapes of the face meet. */
export interface FaceReading {
  /** Depth of one lip in the other, mm. */
  readonly lipCross: number;
  /** Depth of the eyeball beyond the lid's skin, mm. */
  readonly eyeThroughLid: number;
  /** 99th percentile of edge length over rest length, over the edges that are moved. */
  readonly stretch: number;
  /** Faces whose normal turns by more than a right angle, or that keep under a twentieth of their area. */
  readonly flips: number;
  /**
   * Opening left between the lids of an eye that a shape at full shuts, mm; 0 where none does, or another opens the
   * eye.
   */
  readonly lidGap: number;
  /** How far teeth, and the tongue, stand out through the skin beyond rest, mm. */
  readonly teethThrough: number;
  readonly tongueThrough: number;
}
export const FACE_MEASURES = [
  "lipCross",
  "eyeThroughLid",
  "stretch",
  "flips",
  "lidGap",
  "teethThrough",
  "tongueThrough",
] as const;
export type FaceMeasure = (typeof FACE_MEASURES)[number];

/**
 * Places on the skin round an eyeball: its vertices, the middles of its edges and of its faces, as means of vertices.
 */
interface LidSamples {
  readonly eye: Eyeball;
  /** No place of the eyeball is farther from its centre, metres. */
  readonly reach: number;
  /** Vertices of each place, one after another, and where each begins. */
  readonly vertices: Uint32Array;
  readonly starts: Uint32Array;
  /** Height of each over the eyeball at rest, metres. */
  readonly rest: Float32Array;
  readonly height: (p: readonly number[]) => number | null;
}

/** Tables for reading a face, built once for all shapes and pairs. */
export interface FaceGauge {
  readonly rig: Rig;
  readonly part: number;
  readonly lips: LipGauge | null;
  readonly lids: readonly LidSamples[];
  readonly openings: OpeningGauge | null;
  /** Teeth and tongue with the skin before them. */
  readonly walls: readonly Wall[];
  readonly skin: SkinTables;
  /** Of one reading: where the skin is, and which of its vertices moved. */
  readonly moved: Float32Array;
  readonly touched: IndexSet;
}

/** Skin within this many radii of an eyeball's centre is asked for its height over it. */
const REACH = 1.3;
/** Skin farther from the eyeball's centre than this many radii cannot be in it. */
const PASSES_BY = 1.05;

export function makeFaceGauge(rig: Rig): FaceGauge | null {
  const { character } = rig;
  const part = character.parts.findIndex((p) => p.kind === "body");
  if (part < 0) return null;
  const body = character.parts[part]!;
  const P = body.positions;
  const lids = eyeballsOf(character).map((eye) => {
    const height = heightOverEye(character, eye);
    const isNear = (v: number): boolean =>
      Math.hypot(P[3 * v]! - eye.centre[0], P[3 * v + 1]! - eye.centre[1], P[3 * v + 2]! - eye.centre[2]) <
      REACH * eye.radius;
    const asked = lidSamples(body, isNear)
      .map((vertices) => ({ vertices, rest: height(meanOf(P, vertices)) }))
      .filter((x) => x.rest !== null);
    const starts = new Uint32Array(asked.length + 1);
    asked.forEach((x, i) => (starts[i + 1] = starts[i]! + x.vertices.length));
    return {
      eye,
      reach: Math.min(PASSES_BY * eye.radius, farthest(character.parts[eye.part]!.positions, eye.centre)),
      height,
      vertices: Uint32Array.from(asked.flatMap((x) => x.vertices)),
      starts,
      rest: Float32Array.from(asked, (x) => x.rest!),
    };
  });
  const openings = makeOpeningGauge(rig);
  const within = character.parts.flatMap((p, i) => (p.kind === "teeth" || p.kind === "tongue" ? [i] : []));
  return {
    rig,
    part,
    lips: openings?.lips ?? null,
    lids,
    openings,
    walls: makeWalls(rig, part, within),
    skin: skinTables(body),
    moved: P.slice(),
    touched: new IndexSet(P.length / 3),
  };
}

const farthest = (P: Float32Array, [x, y, z]: readonly [number, number, number]): number => {
  let most = 0;
  for (let v = 0; v < P.length; v += 3) most = Math.max(most, Math.hypot(P[v]! - x, P[v + 1]! - y, P[v + 2]! - z));
  return most;
};

/** A shape at a weight. */
export type ShapeShare = readonly [shape: Shape, weight: number];

/** Reads the face with shapes at their weights, one added to the other; the figure stands at rest. */
export function readFace(gauge: FaceGauge, shares: readonly ShapeShare[]): FaceReading {
  const { rig, part, moved, touched, lips } = gauge;
  moved.set(rig.character.parts[part]!.positions);
  touched.clear();
  for (const [shape, weight] of shares)
    for (const { part: of, vertices, deltas } of shape.deltas) {
      if (of !== part) continue;
      for (let k = 0; k < vertices.length; k++) {
        const v = vertices[k]!;
        touched.add(v);
        for (let c = 0; c < 3; c++) moved[3 * v + c]! += weight * deltas[3 * k + c]!;
      }
    }
  const { stretch, flips } = readMovedSkin(gauge.skin, moved, touched.members());
  const atLips = lips !== null && lips.finder.candidates.some((v) => touched.has(v));
  return {
    lipCross: atLips ? 1000 * lipCross(rig, lips, moved).depth : 0,
    eyeThroughLid: 1000 * Math.max(0, ...gauge.lids.map((lid) => eyeThrough(gauge, lid))),
    stretch,
    flips,
    lidGap: 1000 * gapOf(gauge, shares),
    teethThrough: 1000 * standsOut(gauge, shares, "teeth"),
    tongueThrough: 1000 * standsOut(gauge, shares, "tongue"),
  };
}

/** How far an eyeball stands through the moved skin beyond what is there at rest, metres. */
function eyeThrough({ moved, touched }: FaceGauge, { eye, reach, vertices, starts, rest, height }: LidSamples): number {
  const [cx, cy, cz] = eye.centre;
  let most = 0;
  for (let i = 0; i < rest.length; i++) {
    const [from, to] = [starts[i]!, starts[i + 1]!];
    let isMoved = false;
    for (let k = from; k < to && !isMoved; k++) isMoved = touched.has(vertices[k]!);
    if (!isMoved) continue;
    const at = meanOf(moved, vertices, from, to);
    // so far out that even the eyeball's farthest place would not stand out by more than what was found
    const far = reach - most + Math.min(0, rest[i]!);
    if (far <= 0 || (at[0] - cx) ** 2 + (at[1] - cy) ** 2 + (at[2] - cz) ** 2 >= far * far) continue;
    const h = height(at);
    // skin folded into the socket lies inside at rest already
    if (h !== null && h < 0) most = Math.max(most, Math.min(-h, rest[i]! - h));
  }
  return most;
}

/** A weight from which a shape is at full. */
const FULL = 0.999;
/** Units that open the eye: with them it is not meant to be shut. */
const OPENS = 5;

/** Opening left in eyes that one of the shapes shuts by its meaning, metres. */
function gapOf({ openings, part, moved, rig }: FaceGauge, shares: readonly ShapeShare[]): number {
  if (!openings) return 0;
  const meanings = shares.map(([shape, weight]) => ({ meaning: shapeMeaning(shape.name), weight }));
  let most = 0;
  for (const side of ["left", "right"] as const) {
    const opened = meanings.some(
      ({ meaning, weight }) =>
        weight > 0 &&
        meaning?.system === "unit" &&
        meaning.unit === OPENS &&
        (meaning.side === null || meaning.side === side),
    );
    if (opened || !meanings.some(({ meaning, weight }) => weight >= FULL && shutsEye(meaning, side))) continue;
    const positions = rig.character.parts.map((p, i) => (i === part ? moved : p.positions));
    most = Math.max(most, lidOpening(openings, positions, side));
  }
  return most;
}

/** How far parts of a kind stand out through the skin, beyond rest, metres. */
function standsOut(
  { walls, rig, moved, touched }: FaceGauge,
  shares: readonly ShapeShare[],
  kind: "teeth" | "tongue",
): number {
  let most = 0;
  for (const wall of walls) {
    const part = rig.character.parts[wall.part]!;
    if (part.kind !== kind) continue;
    const own = shares.flatMap(([shape, weight]) =>
      shape.deltas.filter((d) => d.part === wall.part).map((d) => [d, weight] as const),
    );
    if (own.length === 0 && !touched.members().some((v) => wall.skin[v] === 1)) continue;
    const places = own.length ? part.positions.slice() : part.positions;
    for (const [d, weight] of own)
      d.vertices.forEach((v, k) => {
        for (let c = 0; c < 3; c++) places[3 * v + c]! += weight * d.deltas[3 * k + c]!;
      });
    most = Math.max(most, piercing(wall, places, moved).depth - wall.rest);
  }
  return most;
}
