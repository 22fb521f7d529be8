import { z } from "zod";
import { restTree } from "../surface/restTree";
import { placeNormals } from "../deform/placeNormals";
import { closestPoint } from "../math/bvh";
import { triangulate, type Character, type Part, type Shape, type ShapeDelta } from "../model/character";
import { UserError } from "../model/userError";
import { barycentric, fullMovement } from "../surface/carryMovement";
import { smoothStep } from "../math/smoothStep";

/** How a part follows the skin under all shapes. */
export const followSchema = z.object({
  part: z.string().min(1),
  /** Farther from the skin than this a vertex does not follow; it fades out over the last quarter, mm. */
  reachMm: z.number().positive().max(500),
  /** Only these shapes; all that move the skin where left out. */
  shapes: z.array(z.string()).max(5000).optional(),
  /** Whether it goes on following after later changes of shapes. */
  keep: z.boolean().optional(),
});
export type Follow = z.infer<typeof followSchema>;

/** Share of the reach over which the following fades out. */
const FADES = 0.25;
const LEAST = 1e-6;

/**
 * Where a vertex of the follower hangs: corners and shares of its place on the skin, its offset from there, and how
 * much it follows.
 */
interface Hold {
  readonly vertex: number;
  readonly corners: readonly [number, number, number];
  readonly share: readonly [number, number, number];
  readonly offset: readonly [number, number, number];
  readonly much: number;
}

/**
 * Movement of a part by one of the skin: every vertex keeps to its place on the skin, and its offset turns as the skin
 * turns there.
 */
export function makeFollower(
  body: Part,
  part: Part,
  reachMm: number,
): (skin: Pick<ShapeDelta, "vertices" | "deltas">) => { vertices: Uint32Array; deltas: Float32Array } {
  const { triangles } = triangulate(body);
  const S = body.positions;
  const bvh = restTree(triangles, S);
  const [P, reach] = [part.positions, reachMm / 1000];
  const holds: Hold[] = [];
  for (let v = 0; v < P.length / 3; v++) {
    const c = closestPoint(bvh, S, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, reach);
    if (c.triangle < 0) continue;
    const corners = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    holds.push({
      vertex: v,
      corners,
      share: barycentric(S, corners, c),
      offset: [P[3 * v]! - c.x, P[3 * v + 1]! - c.y, P[3 * v + 2]! - c.z],
      much: smoothStep((reach - c.distance) / (FADES * reach)),
    });
  }
  const normalsAt = placeNormals(body);
  const rest = normalsAt(S);
  const mixed = (N: Float32Array, { corners, share }: Hold): number[] => {
    const n = [0, 1, 2].map((c) => corners.reduce((sum, w, i) => sum + share[i]! * N[3 * w + c]!, 0));
    const l = Math.hypot(...n) || 1;
    return n.map((x) => x / l);
  };
  return (skin) => {
    const moves = fullMovement(skin, S.length / 3);
    const normals = normalsAt(S.map((x, i) => x + moves[i]!));
    const vertices: number[] = [];
    const deltas: number[] = [];
    for (const hold of holds) {
      const { corners, share, offset, much, vertex } = hold;
      if (!corners.some((w) => moves[3 * w] !== 0 || moves[3 * w + 1] !== 0 || moves[3 * w + 2] !== 0)) continue;
      const turned = turnBy(mixed(rest, hold), mixed(normals, hold), offset);
      const move = [0, 1, 2].map(
        (c) => much * (corners.reduce((sum, w, i) => sum + share[i]! * moves[3 * w + c]!, 0) + turned[c]! - offset[c]!),
      );
      if (Math.hypot(...move) < LEAST) continue;
      vertices.push(vertex);
      deltas.push(...move);
    }
    return { vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) };
  };
}

/**
 * A vector turned by the least turn that brings one unit vector onto another (Rodrigues); opposite vectors turn
 * nothing.
 */
function turnBy(from: readonly number[], to: readonly number[], v: readonly number[]): number[] {
  const axis = [
    from[1]! * to[2]! - from[2]! * to[1]!,
    from[2]! * to[0]! - from[0]! * to[2]!,
    from[0]! * to[1]! - from[1]! * to[0]!,
  ];
  const cos = from[0]! * to[0]! + from[1]! * to[1]! + from[2]! * to[2]!;
  if (cos < -0.999) return [...v];
  const cross = [
    axis[1]! * v[2]! - axis[2]! * v[1]!,
    axis[2]! * v[0]! - axis[0]! * v[2]!,
    axis[0]! * v[1]! - axis[1]! * v[0]!,
  ];
  const along = axis[0]! * v[0]! + axis[1]! * v[1]! + axis[2]! * v[2]!;
  return v.map((x, c) => cos * x + cross[c]! + (axis[c]! * along) / (1 + cos));
}

/**
 * Gives a part the movement of the skin under all shapes, or some; what it did in them before is replaced. @throws
 * UserError when the part or a body is not there.
 */
export function followSkin(character: Character, { part: name, reachMm, shapes, keep }: Follow): Character {
  const index = character.parts.findIndex((p) => p.name === name);
  const body = character.parts.findIndex((p) => p.kind === "body");
  if (index < 0) throw new UserError(`There is no part named ${name}.`, "follow", "");
  if (body < 0 || body === index)
    throw new UserError(
      body < 0 ? "The character has no body." : `${name} is the skin itself.`,
      "follow",
      "Choose another part.",
    );
  const unknown = shapes?.find((n) => !character.shapes.some((s) => s.name === n));
  if (unknown !== undefined) throw new UserError(`There is no shape named ${unknown}.`, "follow", "");
  const follower = makeFollower(character.parts[body]!, character.parts[index]!, reachMm);
  return {
    ...character,
    ...(keep
      ? { follows: [...(character.follows ?? []).filter((f) => f.part !== name), { part: name, reachMm }] }
      : {}),
    shapes: character.shapes.map((shape): Shape => {
      const skin = shape.deltas.find((d) => d.part === body);
      if (!skin || (shapes && !shapes.includes(shape.name))) return shape;
      const made = follower(skin);
      const others = shape.deltas.filter((d) => d.part !== index);
      return {
        ...shape,
        deltas: (made.vertices.length ? [...others, { part: index, ...made }] : others).sort((a, b) => a.part - b.part),
      };
    }),
  };
}
