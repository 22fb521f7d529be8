import type { Neighbours } from "../model/neighbours";

export const BRUSH_TOOLS = ["move", "smooth", "relax", "inflate", "flatten", "pinch", "give back"] as const;
export type BrushTool = (typeof BRUSH_TOOLS)[number];
export const FALL_OFFS = ["round", "sharp", "even"] as const;
export type FallOff = (typeof FALL_OFFS)[number];

/** Share of a brush's strength at a distance from its centre, 0..1 of the radius. */
export const FALL_OFF: Record<FallOff, (t: number) => number> = {
  round: (t) => (1 - t * t) ** 2,
  sharp: (t) => (1 - t) ** 2,
  even: (t) => (t < 0.85 ? 1 : Math.max(0, (1 - t) / 0.15)),
};

export interface BrushDab {
  readonly tool: BrushTool;
  /** Centre in character space, metres. */
  readonly centre: readonly [number, number, number];
  /** Metres. */
  readonly radius: number;
  /** 0..1; for inflate a negative strength deflates. */
  readonly strength: number;
  readonly fallOff: FallOff;
  /** Way of the pointer since the last dab, metres, character space: moves the surface with the move tool. */
  readonly drag: readonly [number, number, number];
}

export interface DabResult {
  readonly vertices: Uint32Array;
  /** 3 x vertices.length, metres, character space: to be added to the posed surface. */
  readonly moves: Float32Array;
}

/** What each brush does, in a few words. */
export const BRUSH_WORDS: Readonly<Record<BrushTool, string>> = {
  move: "takes the skin along",
  smooth: "evens the surface",
  relax: "evens the mesh along the surface, its form stays",
  inflate: "lifts the skin; with Shift it sinks",
  flatten: "presses onto the plane under the brush",
  pinch: "draws the skin together; with Shift apart",
  "give back": "takes the sculpt back towards where it began",
};

/** Share of the way to the middle that a pinch dab draws the skin at full strength. */
const DRAW = 0.12;
/** Share of the radius an inflate dab lifts the surface by at full strength. */
const LIFT = 0.06;

/**
 * One dab of a brush on the posed surface. "give back" is no matter of the surface: it only says which vertices, and
 * by how much, in x of the moves.
 * @param posed, normals 3 x vertexCount, character space. @param mask 0..1 per vertex: where the brush may act.
 */
export function brushDab(
  dab: BrushDab,
  posed: Float32Array,
  normals: Float32Array,
  neighbours: Neighbours,
  mask: Float32Array,
): DabResult {
  const hit: number[] = [];
  const weight: number[] = [];
  const [cx, cy, cz] = dab.centre;
  const r2 = dab.radius * dab.radius;
  for (let v = 0, i = 0; i < posed.length; v++, i += 3) {
    const dx = posed[i]! - cx;
    const dy = posed[i + 1]! - cy;
    const dz = posed[i + 2]! - cz;
    const d2 = dx * dx + dy * dy + dz * dz;
    if (d2 >= r2 || mask[v]! <= 0) continue;
    hit.push(v);
    weight.push(FALL_OFF[dab.fallOff](Math.sqrt(d2) / dab.radius) * mask[v]!);
  }
  const moves = new Float32Array(3 * hit.length);
  const plane = dab.tool === "flatten" ? facingPlane(hit, weight, posed, normals) : null;
  hit.forEach((v, k) => {
    const w = weight[k]! * dab.strength;
    const i = 3 * v;
    if (dab.tool === "give back") moves[3 * k] = Math.min(1, Math.abs(w));
    else if (dab.tool === "move") moves.set([w * dab.drag[0], w * dab.drag[1], w * dab.drag[2]], 3 * k);
    else if (dab.tool === "inflate") {
      const s = w * LIFT * dab.radius;
      moves.set([s * normals[i]!, s * normals[i + 1]!, s * normals[i + 2]!], 3 * k);
    } else if (dab.tool === "pinch") {
      // towards the brush's middle, along the surface
      const to = [0, 1, 2].map((c) => dab.centre[c]! - posed[i + c]!);
      const along = to.reduce((sum, x, c) => sum + x * normals[i + c]!, 0);
      for (let c = 0; c < 3; c++) moves[3 * k + c] = w * DRAW * (to[c]! - along * normals[i + c]!);
    } else if (dab.tool === "smooth" || dab.tool === "relax") {
      const from = neighbours.start[v]!;
      const to = neighbours.start[v + 1]!;
      if (from === to) return;
      for (let c = 0; c < 3; c++) {
        let mean = 0;
        for (let n = from; n < to; n++) mean += posed[3 * neighbours.list[n]! + c]!;
        moves[3 * k + c] = w * (mean / (to - from) - posed[i + c]!);
      }
      if (dab.tool === "relax") {
        const out = [0, 1, 2].reduce((sum, c) => sum + moves[3 * k + c]! * normals[i + c]!, 0);
        for (let c = 0; c < 3; c++) moves[3 * k + c]! -= out * normals[i + c]!;
      }
    } else if (plane) {
      const h = plane.n.reduce((s, x, c) => s + x * (posed[i + c]! - plane.o[c]!), 0);
      for (let c = 0; c < 3; c++) moves[3 * k + c] = -w * h * plane.n[c]!;
    }
  });
  return { vertices: Uint32Array.from(hit), moves };
}

/** Weighted mean place and normal under the brush. */
function facingPlane(
  hit: readonly number[],
  weight: readonly number[],
  posed: Float32Array,
  normals: Float32Array,
): { o: number[]; n: number[] } | null {
  const o = [0, 0, 0];
  const n = [0, 0, 0];
  let total = 0;
  hit.forEach((v, k) => {
    total += weight[k]!;
    for (let c = 0; c < 3; c++) {
      o[c]! += weight[k]! * posed[3 * v + c]!;
      n[c]! += weight[k]! * normals[3 * v + c]!;
    }
  });
  const l = Math.hypot(...n);
  return total > 0 && l > 0 ? { o: o.map((x) => x / total), n: n.map((x) => x / l) } : null;
}

export const BRUSH_AREAS = ["anywhere", "bending zone", "below the joint", "above the joint", "painted"] as const;
export type BrushArea = (typeof BRUSH_AREAS)[number];

/**
 * Where a brush may act, by a joint's share of each vertex (0 above, 1 below the joint), soft at the edges.
 * Vertices the joint has no hold on belong to "above": the flank while the arm hangs beside it; what goes along with
 * the joint does not. A painted mask is laid on by itself.
 */
export function areaMask(area: BrushArea, share: Float32Array): Float32Array {
  const soft = (x: number): number => Math.min(1, Math.max(0, x));
  const of = {
    anywhere: () => 1,
    painted: () => 1,
    "bending zone": (s: number) => soft(12 * s * (1 - s)),
    "below the joint": (s: number) => soft(2 * s - 0.2),
    "above the joint": (s: number) => soft(1.1 - 5 * s),
  }[area];
  return share.map((s) => of(s));
}
