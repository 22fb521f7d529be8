import type { Rig } from "../deform/rig";
import type { Shape } from "../model/character";
import { percentile } from "./edgeStretch";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { faceVector, isTurned } from "./faceArea";
import { heightOverEye } from "./heightOverEye";
import { lidSamples, meanOf } from "./lidSamples";
import { lipCross, type LipGauge } from "./lipCross";
import { lidOpening, makeOpeningGauge, type OpeningGauge } from "./openings";
import { makeWall, piercing, type Wall } from "./throughSkin";
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
  readonly samples: readonly (readonly number[])[];
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
  /** Faces of each vertex of the skin: offsets and list. */
  readonly faceStart: Uint32Array;
  readonly faceList: Uint32Array;
  readonly moved: Float32Array;
}

/** Skin within this many radii of an eyeball's centre is asked for its height over it. */
const REACH = 1.3;

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
    return { eye, height, samples: asked.map((x) => x.vertices), rest: Float32Array.from(asked, (x) => x.rest!) };
  });
  const faceStart = new Uint32Array(P.length / 3 + 1);
  for (const v of body.corners) faceStart[v + 1]!++;
  for (let v = 0; v + 1 < faceStart.length; v++) faceStart[v + 1]! += faceStart[v]!;
  const faceList = new Uint32Array(body.corners.length);
  const fill = faceStart.slice();
  for (let f = 0; f + 1 < body.faceStarts.length; f++)
    for (let k = body.faceStarts[f]!; k < body.faceStarts[f + 1]!; k++) faceList[fill[body.corners[k]!]!++] = f;
  const openings = makeOpeningGauge(rig);
  const walls = character.parts.flatMap((p, i) =>
    p.kind === "teeth" || p.kind === "tongue" ? [makeWall(rig, part, i)] : [],
  );
  return { rig, part, lips: openings?.lips ?? null, lids, openings, walls, faceStart, faceList, moved: P.slice() };
}

/** A shape at a weight. */
export type ShapeShare = readonly [shape: Shape, weight: number];

/** Skin farther from the eyeball's centre than this many radii cannot be in it. */
const PASSES_BY = 1.05;

/** Reads the face with shapes at their weights, one added to the other; the figure stands at rest. */
export function readFace(gauge: FaceGauge, shares: readonly ShapeShare[]): FaceReading {
  const { rig, part, moved } = gauge;
  const body = rig.character.parts[part]!;
  const P = body.positions;
  moved.set(P);
  const touched = new Set<number>();
  for (const [shape, weight] of shares)
    for (const d of shape.deltas) {
      if (d.part !== part) continue;
      d.vertices.forEach((v, k) => {
        touched.add(v);
        for (let c = 0; c < 3; c++) moved[3 * v + c]! += weight * d.deltas[3 * k + c]!;
      });
    }
  const { stretch, flips } = surface(gauge, touched);
  let eye = 0;
  for (const lid of gauge.lids)
    lid.samples.forEach((vertices, i) => {
      if (!vertices.some((v) => touched.has(v))) return;
      const at = meanOf(moved, vertices);
      if (
        Math.hypot(at[0] - lid.eye.centre[0], at[1] - lid.eye.centre[1], at[2] - lid.eye.centre[2]) >
        PASSES_BY * lid.eye.radius
      )
        return;
      const h = lid.height(at);
      // beyond what is there at rest: skin folded into the socket lies inside already
      if (h !== null && h < 0) eye = Math.max(eye, Math.min(-h, lid.rest[i]! - h));
    });
  const atLips = gauge.lips !== null && [...touched].some((v) => isLip(gauge.lips!, v));
  return {
    lipCross: atLips ? 1000 * lipCross(rig, gauge.lips!, moved).depth : 0,
    eyeThroughLid: 1000 * eye,
    stretch,
    flips,
    lidGap: 1000 * gapOf(gauge, shares),
    teethThrough: 1000 * standsOut(gauge, shares, touched, "teeth"),
    tongueThrough: 1000 * standsOut(gauge, shares, touched, "tongue"),
  };
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
  { walls, rig, moved }: FaceGauge,
  shares: readonly ShapeShare[],
  touched: ReadonlySet<number>,
  kind: "teeth" | "tongue",
): number {
  let most = 0;
  for (const wall of walls) {
    const part = rig.character.parts[wall.part]!;
    if (part.kind !== kind) continue;
    const own = shares.flatMap(([shape, weight]) =>
      shape.deltas.filter((d) => d.part === wall.part).map((d) => [d, weight] as const),
    );
    let near = own.length > 0;
    if (!near)
      for (const v of touched)
        if (wall.skin[v]) {
          near = true;
          break;
        }
    if (!near) continue;
    const places = own.length ? part.positions.slice() : part.positions;
    for (const [d, weight] of own)
      d.vertices.forEach((v, k) => {
        for (let c = 0; c < 3; c++) places[3 * v + c]! += weight * d.deltas[3 * k + c]!;
      });
    most = Math.max(most, piercing(wall, places, moved).depth - wall.rest);
  }
  return most;
}

const lipSets = new WeakMap<LipGauge, Set<number>>();
function isLip(lips: LipGauge, v: number): boolean {
  let set = lipSets.get(lips);
  if (!set) lipSets.set(lips, (set = new Set(lips.finder.candidates)));
  return set.has(v);
}

function surface(
  { rig, part, faceStart, faceList, moved }: FaceGauge,
  touched: ReadonlySet<number>,
): { stretch: number; flips: number } {
  const body = rig.character.parts[part]!;
  const P = body.positions;
  const faces = new Set<number>();
  for (const v of touched) for (let i = faceStart[v]!; i < faceStart[v + 1]!; i++) faces.add(faceList[i]!);
  const ratios: number[] = [];
  let flips = 0;
  const length = (Q: Float32Array, a: number, b: number): number =>
    Math.hypot(Q[3 * a]! - Q[3 * b]!, Q[3 * a + 1]! - Q[3 * b + 1]!, Q[3 * a + 2]! - Q[3 * b + 2]!);
  for (const f of faces) {
    const corners = body.corners.subarray(body.faceStarts[f]!, body.faceStarts[f + 1]!);
    for (let k = 0; k < corners.length; k++) {
      const [a, b] = [corners[k]!, corners[(k + 1) % corners.length]!];
      const l = length(P, a, b);
      if (l > 1e-6) ratios.push(length(moved, a, b) / l);
    }
    if (isTurned(faceVector(P, corners), faceVector(moved, corners))) flips++;
  }
  return { stretch: ratios.length ? percentile(ratios, 0.99) : 1, flips };
}
