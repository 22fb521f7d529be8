import { makeRig } from "../../core/deform/rig";
import { closestPoint } from "../../core/math/bvh";
import { eyeballsOf } from "../../core/measure/eyeballs";
import { makeLipGauge } from "../../core/measure/lipCross";
import { mixShapes } from "../../core/shapes/mixShapes";
import { repeatable } from "../modelling/repeatable";
import type { Character, Shape, ShapeDelta } from "../../core/model/character";

const LEAK = 0.2;
const WEAK_SIDE = 0.6;
/** Largest noise along each axis, metres: vectors stay under the limit of the symmetry check. */
const NOISE = 0.00055;
const SHALLOW_BLINK = 0.0012;
/** All that a shape that was never sculpted moves, metres. */
const STRAY_NUDGE = 0.00002;

/** The faults of the first delivery's shapes (plantedFaults.ts says where each is). */
export function withShapeFaults(clean: Character): Shape[] {
  const part = (name: string): number => clean.parts.findIndex((p) => p.name === name);
  const lip = lowerLip(clean);
  const change: Record<string, (shape: Shape) => Shape> = {
    AU43_left: (s) =>
      onPart({ ...s, deltas: s.deltas.filter((d) => d.part !== part("lashes left")) }, part("body"), (d) =>
        intoTheEye(clean, d),
      ),
    viseme_13: (s) => ({
      ...s,
      deltas: [...s.deltas.filter((d) => d.part !== part("tongue")), throughTheChin(clean, part("tongue"))],
    }),
    AU4_right: (s) => onPart(s, part("body"), noisy),
    AU10_right: (s) => ({ ...s, deltas: s.deltas.map((d) => ({ ...d, deltas: d.deltas.map((x) => x * WEAK_SIDE) })) }),
    AU12_left: (s) =>
      leaking(
        lowerLipUp(clean, s, lip, "left"),
        clean.shapes.find((o) => o.name === "AU12_right")!,
      ),
    AU12_right: (s) => lowerLipUp(clean, s, lip, "right"),
    AU18: (s) => lowerLipUp(clean, s, lip, "both"),
  };
  return [
    ...clean.shapes.map((s) => change[s.name]?.(s) ?? s),
    {
      name: "AU13_draft",
      label: "sharp lip puller, draft",
      deltas: [{ part: part("body"), vertices: Uint32Array.of(0), deltas: Float32Array.of(STRAY_NUDGE, 0, 0) }],
    },
  ];
}

const onPart = (shape: Shape, part: number, change: (delta: ShapeDelta) => ShapeDelta): Shape => ({
  ...shape,
  deltas: shape.deltas.map((d) => (d.part === part ? change(d) : d)),
});

/**
 * How far the smile and the pucker each press the lower lip up: alone within the limit, together through the upper lip.
 * Metres.
 */
const LIP_PRESS = 0.0009;
/** The press reaches this far from the seam, metres. */
const LIP_REACH = 0.006;

/** Vertices of the lower lip at the seam, and how much of the press each gets. */
function lowerLip(clean: Character): ReadonlyMap<number, number> {
  const rig = makeRig(clean);
  const { finder, rest } = makeLipGauge(rig)!;
  const share = new Map<number, number>();
  for (const v of finder.candidates) {
    if (finder.region.share[v] !== 1) continue;
    const gap = closestPoint(finder.still, rest, rest[3 * v]!, rest[3 * v + 1]!, rest[3 * v + 2]!).distance;
    const across = Math.max(0, 1 - (rest[3 * v]! / 0.018) ** 2);
    if (gap < LIP_REACH && across > 0) share.set(v, (1 - gap / LIP_REACH) * across);
  }
  return share;
}

function lowerLipUp(
  clean: Character,
  shape: Shape,
  lip: ReadonlyMap<number, number>,
  side: "left" | "right" | "both",
): Shape {
  const body = clean.parts.findIndex((p) => p.kind === "body");
  const P = clean.parts[body]!.positions;
  const ofSide = (v: number): number =>
    side === "both" ? 1 : Math.min(1, Math.max(0, 0.5 + ((side === "left" ? 1 : -1) * P[3 * v]!) / 0.016));
  const vertices = [...lip.keys()].filter((v) => ofSide(v) > 0).sort((a, b) => a - b);
  const press: ShapeDelta = {
    part: body,
    vertices: Uint32Array.from(vertices),
    deltas: Float32Array.from(vertices.flatMap((v) => [0, LIP_PRESS * lip.get(v)! * ofSide(v), 0])),
  };
  return {
    ...shape,
    deltas: mixShapes([
      [shape, 1],
      [{ ...shape, deltas: [press] }, 1],
    ]),
  };
}

/** Pulls the shut lid's skin over the cornea inward. */
function intoTheEye(clean: Character, delta: ShapeDelta): ShapeDelta {
  const eye = eyeballsOf(clean).find((e) => e.side === "left")!;
  const P = clean.parts[delta.part]!.positions;
  const deltas = delta.deltas.slice();
  delta.vertices.forEach((v, k) => {
    const out = [0, 1, 2].map((c) => P[3 * v + c]! + delta.deltas[3 * k + c]! - eye.centre[c]!);
    const r = Math.hypot(...out);
    if (r > 1.15 * eye.radius || out[2]! < 0.9 * r) return;
    for (let c = 0; c < 3; c++) deltas[3 * k + c]! -= (SHALLOW_BLINK * out[c]!) / r;
  });
  return { ...delta, deltas };
}

/** The tongue falls forward and down, out of the chin. */
function throughTheChin(clean: Character, part: number): ShapeDelta {
  const P = clean.parts[part]!.positions;
  const count = P.length / 3;
  const front = Math.max(...Array.from({ length: count }, (_, v) => P[3 * v + 2]!));
  const deltas = Float32Array.from({ length: 3 * count }, (_, i) => {
    const share = Math.max(0, 1 - (front - P[3 * Math.floor(i / 3) + 2]!) / 0.035);
    return i % 3 === 1 ? -0.026 * share : i % 3 === 2 ? 0.024 * share : 0;
  });
  return { part, vertices: Uint32Array.from({ length: count }, (_, v) => v), deltas };
}

/** Adds the same noise every time. */
function noisy(delta: ShapeDelta): ShapeDelta {
  const uniform = repeatable(7);
  const next = (): number => 2 * uniform() - 1;
  const deltas = delta.deltas.slice();
  delta.vertices.forEach((_, k) => {
    const moves = Math.hypot(deltas[3 * k]!, deltas[3 * k + 1]!, deltas[3 * k + 2]!) > 0.0005;
    for (let c = 0; c < 3; c++) {
      const n = NOISE * next();
      if (moves) deltas[3 * k + c]! += n;
    }
  });
  return { ...delta, deltas };
}

/** A left shape with a share of the right one in it. */
const leaking = (shape: Shape, other: Shape): Shape => ({
  ...shape,
  deltas: mixShapes([
    [shape, 1],
    [other, LEAK],
  ]),
});
