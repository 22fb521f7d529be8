import { boxOf } from "../math/boxOf";
import { buildBvh, type Bvh } from "../math/bvh";
import { refitMoved } from "../math/refitMoved";
import { castEdges, groupEdges, type EdgeGroups } from "./castEdges";
import { outerAtRest } from "./outerSkin";
import { makeRig, type Rig } from "../deform/rig";
import type { Character, Part, Shape } from "../model/character";
import { neighboursOf } from "../model/neighbours";
import { whileShaped } from "../model/movedBy";

/** Skin within this distance of the part's bounds is asked, metres. */
const ROOM = 0.03;

/** The outer skin round a part that lies under it, as a tree. */
export interface Wall {
  readonly part: number;
  readonly bvh: Bvh;
  /** Skin vertices of the wall. */
  readonly skin: Uint8Array;
  /** Edges of the part. */
  readonly edges: EdgeGroups;
  /** Deepest piercing at rest, metres. */
  readonly rest: number;
}

/** Walls round parts, with one tree of the skin near any of them. @param body, parts indices into the parts. */
export function makeWalls({ character, triangles: all }: Rig, body: number, parts: readonly number[]): Wall[] {
  const P = character.parts[body]!.positions;
  const triangles = all[body]!;
  const isNear = new Uint8Array(triangles.length / 3);
  for (const part of parts) {
    const { middle, size } = boxOf(character.parts[part]!.positions);
    const isBeside = (v: number, c: number): boolean => Math.abs(P[3 * v + c]! - middle[c]!) < size[c]! / 2 + ROOM;
    for (let t = 0; t < isNear.length; t++) if ([0, 1, 2].every((c) => isBeside(triangles[3 * t]!, c))) isNear[t] = 1;
  }
  const near = Array.from(isNear.keys()).filter((t) => isNear[t] === 1);
  const outer = outerAtRest(triangles, P, near);
  const list = new Uint32Array(3 * outer.length);
  outer.forEach((t, i) => list.set(triangles.subarray(3 * t, 3 * t + 3), 3 * i));
  const skin = new Uint8Array(P.length / 3);
  for (const v of list) skin[v] = 1;
  const bvh = buildBvh(list, P);
  return parts.map((part) => {
    const own = character.parts[part]!.positions;
    const edges = groupEdges(edgesOf(character.parts[part]!), own);
    return { part, bvh, skin, edges, rest: piercing({ bvh, edges }, own, P).depth };
  });
}

/** @param body, part indices into the parts. */
export const makeWall = (rig: Rig, body: number, part: number): Wall => makeWalls(rig, body, [part])[0]!;

/**
 * How deep a part's edges stand out through its wall: the outer end's height above the crossed triangle, metres. What
 * shows between open lips crosses nothing.
 * @param own places of the part, 3 x its vertices. @param skin places of the body; the wall's tree is refitted to them.
 */
export function piercing(
  { bvh, edges }: Pick<Wall, "bvh" | "edges">,
  own: Float32Array,
  skin: Float32Array,
): { depth: number; vertices: [number, number][] } {
  refitMoved(bvh, skin);
  const out = new Map<number, number>();
  const stands = (v: number, depth: number): unknown => out.set(v, Math.max(out.get(v) ?? 0, depth));
  castEdges(bvh, skin, edges, own, (v, w, length, distance, sign) => {
    // leaving through the front face: the far end is outside; coming in through it: the near end is
    if (sign === 1) stands(w, length - distance);
    else stands(v, distance);
  });
  const vertices = [...out].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  return { depth: vertices[0]?.[1] ?? 0, vertices };
}

/** Every edge of a part once, from the lower vertex to the higher. */
function edgesOf(part: Part): [number, number][] {
  const { start, list } = neighboursOf(part);
  return Array.from({ length: start.length - 1 }, (_, v) =>
    Array.from(list.subarray(start[v]!, start[v + 1]!))
      .filter((w) => w > v)
      .map((w): [number, number] => [v, w]),
  ).flat();
}
/** How deep a part stands out of the skin under a shape at full, beyond rest, metres. */
export function piercingDepth(character: Character, part: number): (shape: Shape) => number {
  const body = character.parts.findIndex((p) => p.kind === "body");
  const wall = makeWall(makeRig(character), body, part);
  return (shape) =>
    whileShaped(character.parts, shape, (now) => piercing(wall, now[part]!, now[body]!).depth - wall.rest);
}
