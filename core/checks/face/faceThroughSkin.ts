import { buildBvh, castRay, refitBvh, type Bvh } from "../../measure/bvh";
import { outerTriangles } from "../../measure/outerSkin";
import { makeRig } from "../../deform/rig";
import type { Character, PartKind, Shape } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { neighboursOf, type Neighbours } from "../../model/neighbours";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Check, type CheckContext, type Finding } from "../finding";

/** Skin within this distance of the part's bounds is asked, metres. */
const ROOM = 0.03;

interface Wall {
  readonly bvh: Bvh;
  /** Skin vertices of the wall. */
  readonly skin: Uint8Array;
  readonly neighbours: Neighbours;
  /** Deepest piercing at rest, metres. */
  readonly rest: number;
}

/** The outer skin round a part, as a tree. */
function wallOf(character: Character, body: number, part: number, { rig, cache }: Pick<CheckContext, "rig" | "cache">): Wall {
  const key = `wall ${part}`;
  if (!cache.has(key)) {
    const P = character.parts[body]!.positions;
    const triangles = rig.triangles[body]!;
    const own = character.parts[part]!.positions;
    const lo = [Infinity, Infinity, Infinity];
    const hi = [-Infinity, -Infinity, -Infinity];
    own.forEach((x, i) => {
      lo[i % 3] = Math.min(lo[i % 3]!, x - ROOM);
      hi[i % 3] = Math.max(hi[i % 3]!, x + ROOM);
    });
    const near: number[] = [];
    for (let t = 0; t < triangles.length / 3; t++) if ([0, 1, 2].every((c) => P[3 * triangles[3 * t]! + c]! > lo[c]! && P[3 * triangles[3 * t]! + c]! < hi[c]!)) near.push(t);
    const outer = outerTriangles(buildBvh(triangles, P), P, near);
    const list = new Uint32Array(3 * outer.length);
    outer.forEach((t, i) => list.set(triangles.subarray(3 * t, 3 * t + 3), 3 * i));
    const bvh = buildBvh(list, P);
    const skin = new Uint8Array(P.length / 3);
    for (const v of list) skin[v] = 1;
    const neighbours = neighboursOf(character.parts[part]!);
    cache.set(key, { bvh, skin, neighbours, rest: piercing(neighbours, own, bvh, P).depth } satisfies Wall);
  }
  return cache.get(key) as Wall;
}

/** How deep a part's edges stand out through a surface: the outer end's height above the crossed triangle. Metres. */
function piercing({ start, list }: Neighbours, P: Float32Array, wall: Bvh, skin: Float32Array): { depth: number; vertices: [number, number][] } {
  const out = new Map<number, number>();
  for (let v = 0; v < P.length / 3; v++)
    for (let i = start[v]!; i < start[v + 1]!; i++) {
      const w = list[i]!;
      const d = [0, 1, 2].map((c) => P[3 * w + c]! - P[3 * v + c]!);
      const l = Math.hypot(...d);
      if (l < 1e-9) continue;
      castRay(wall, skin, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, d[0]! / l, d[1]! / l, d[2]! / l, (_, distance, sign) => {
        // leaving through the front face: the far end is outside
        if (sign === 1 && distance < l) out.set(w, Math.max(out.get(w) ?? 0, l - distance));
      });
    }
  const vertices = [...out].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  return { depth: vertices[0]?.[1] ?? 0, vertices };
}

/** How deep a part stands out of the skin under a shape at full, beyond rest, metres. */
export function piercingDepth(character: Character, part: number): (shape: Shape) => number {
  const body = character.parts.findIndex((p) => p.kind === "body");
  const wall = wallOf(character, body, part, { rig: makeRig(character), cache: new Map() });
  return (shape) => {
    const moved = (p: number): Float32Array => {
      const delta = shape.deltas.find((d) => d.part === p);
      return delta ? movedBy(character.parts[p]!, delta).moved : character.parts[p]!.positions;
    };
    const skin = moved(body);
    refitBvh(wall.bvh, skin);
    return piercing(wall.neighbours, moved(part), wall.bvh, skin).depth - wall.rest;
  };
}

const through = (id: string, kind: PartKind, title: string): Check => ({
  id,
  title,
  unit: "mm",
  source: "our own choice: 0.2 mm",
  run: (character, context) => {
    const limit = context.profile.limits["face.through-skin"];
    const body = character.parts.findIndex((p) => p.kind === "body");
    if (limit === null || body < 0) return [];
    const skinRest = character.parts[body]!.positions;
    const out: Finding[] = [];
    character.parts.forEach((part, p) => {
      if (part.kind !== kind) return;
      for (const shape of shapesAsSeen(character)) {
        const own = shape.deltas.find((d) => d.part === p);
        const skinDelta = shape.deltas.find((d) => d.part === body);
        if (!own && !skinDelta) continue;
        const wall = wallOf(character, body, p, context);
        if (!own && !skinDelta!.vertices.some((v) => wall.skin[v])) continue;
        const skin = skinDelta ? movedBy(character.parts[body]!, skinDelta).moved : skinRest;
        refitBvh(wall.bvh, skin);
        const { depth, vertices } = piercing(wall.neighbours, own ? movedBy(part, own).moved : part.positions, wall.bvh, skin);
        const mm = 1000 * (depth - wall.rest);
        if (mm <= limit) continue;
        out.push(finding({ check: id, severity: "error", shape: shape.name, part: part.name, vertices: vertices.map(([v]) => v), value: mm, unit: "mm", limit, message: `${part.name} stands ${mm.toFixed(1)} mm out of the skin at ${shape.label}; draw it back or carry it with the jaw.` }));
      }
    });
    return out;
  },
});

/** Teeth and tongue that come out through the skin of lips and chin; what shows between open lips is fine. */
export const faceTeethThrough = through("face.teeth-through", "teeth", "Teeth through the skin");
export const faceTongueThrough = through("face.tongue-through", "tongue", "Tongue through the skin");
