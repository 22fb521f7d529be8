import type { Rig } from "../deform/rig";
import type { Shape } from "../model/character";
import { percentile } from "./edgeStretch";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { faceVector } from "./faceArea";
import { heightOverEye } from "./heightOverEye";
import { lipCross, makeLipGauge, type LipGauge } from "./lipCross";

/** What can go wrong where two shapes of the face meet. */
export interface FaceReading {
  /** Depth of one lip in the other, mm. */
  readonly lipCross: number;
  /** Depth of the eyeball beyond the lid's skin, mm. */
  readonly eyeThroughLid: number;
  /** 99th percentile of edge length over rest length, over the edges that are moved. */
  readonly stretch: number;
  /** Faces whose normal turns by more than a right angle. */
  readonly flips: number;
}
export const FACE_MEASURES = ["lipCross", "eyeThroughLid", "stretch", "flips"] as const;
export type FaceMeasure = (typeof FACE_MEASURES)[number];

/** Tables for reading a face, built once for all shapes and pairs. */
export interface FaceGauge {
  readonly rig: Rig;
  readonly part: number;
  readonly lips: LipGauge | null;
  readonly lids: readonly { readonly eye: Eyeball; readonly vertices: Uint32Array; readonly rest: Float32Array; readonly height: (p: readonly number[]) => number | null }[];
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
    const near = Array.from({ length: P.length / 3 }, (_, v) => v).filter((v) => Math.hypot(P[3 * v]! - eye.centre[0], P[3 * v + 1]! - eye.centre[1], P[3 * v + 2]! - eye.centre[2]) < REACH * eye.radius);
    const heights = near.map((v) => height([P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!]));
    const asked = near.filter((_, i) => heights[i] !== null);
    return { eye, height, vertices: Uint32Array.from(asked), rest: Float32Array.from(heights.filter((h) => h !== null) as number[]) };
  });
  const faceStart = new Uint32Array(P.length / 3 + 1);
  for (const v of body.corners) faceStart[v + 1]!++;
  for (let v = 0; v + 1 < faceStart.length; v++) faceStart[v + 1]! += faceStart[v]!;
  const faceList = new Uint32Array(body.corners.length);
  const fill = faceStart.slice();
  for (let f = 0; f + 1 < body.faceStarts.length; f++) for (let k = body.faceStarts[f]!; k < body.faceStarts[f + 1]!; k++) faceList[fill[body.corners[k]!]!++] = f;
  return { rig, part, lips: makeLipGauge(rig), lids, faceStart, faceList, moved: P.slice() };
}

/** Reads the face with shapes at full, one added to the other; the figure stands at rest. */
export function readFace(gauge: FaceGauge, shapes: readonly Shape[]): FaceReading {
  const { rig, part, moved } = gauge;
  const body = rig.character.parts[part]!;
  const P = body.positions;
  moved.set(P);
  const touched = new Set<number>();
  for (const shape of shapes)
    for (const d of shape.deltas) {
      if (d.part !== part) continue;
      d.vertices.forEach((v, k) => {
        touched.add(v);
        for (let c = 0; c < 3; c++) moved[3 * v + c]! += d.deltas[3 * k + c]!;
      });
    }
  const { stretch, flips } = surface(gauge, touched);
  let eye = 0;
  for (const lid of gauge.lids)
    lid.vertices.forEach((v, i) => {
      if (!touched.has(v)) return;
      const h = lid.height([moved[3 * v]!, moved[3 * v + 1]!, moved[3 * v + 2]!]);
      // beyond what is there at rest: skin folded into the socket lies inside already
      if (h !== null && h < 0) eye = Math.max(eye, Math.min(-h, lid.rest[i]! - h));
    });
  const atLips = gauge.lips !== null && [...touched].some((v) => isLip(gauge.lips!, v));
  return { lipCross: atLips ? 1000 * lipCross(rig, gauge.lips!, moved).depth : 0, eyeThroughLid: 1000 * eye, stretch, flips };
}

const lipSets = new WeakMap<LipGauge, Set<number>>();
function isLip(lips: LipGauge, v: number): boolean {
  let set = lipSets.get(lips);
  if (!set) lipSets.set(lips, (set = new Set(lips.finder.candidates)));
  return set.has(v);
}

function surface({ rig, part, faceStart, faceList, moved }: FaceGauge, touched: ReadonlySet<number>): { stretch: number; flips: number } {
  const body = rig.character.parts[part]!;
  const P = body.positions;
  const faces = new Set<number>();
  for (const v of touched) for (let i = faceStart[v]!; i < faceStart[v + 1]!; i++) faces.add(faceList[i]!);
  const ratios: number[] = [];
  let flips = 0;
  const length = (Q: Float32Array, a: number, b: number): number => Math.hypot(Q[3 * a]! - Q[3 * b]!, Q[3 * a + 1]! - Q[3 * b + 1]!, Q[3 * a + 2]! - Q[3 * b + 2]!);
  for (const f of faces) {
    const corners = body.corners.subarray(body.faceStarts[f]!, body.faceStarts[f + 1]!);
    for (let k = 0; k < corners.length; k++) {
      const [a, b] = [corners[k]!, corners[(k + 1) % corners.length]!];
      const l = length(P, a, b);
      if (l > 1e-6) ratios.push(length(moved, a, b) / l);
    }
    const [n, m] = [faceVector(P, corners), faceVector(moved, corners)];
    if (n[0] * m[0] + n[1] * m[1] + n[2] * m[2] < 0) flips++;
  }
  return { stretch: ratios.length ? percentile(ratios, 0.99) : 1, flips };
}
