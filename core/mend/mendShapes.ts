import { sideOfShapeName } from "../checks/shapes/shapesSides";
import { buildBvh, closestPoint } from "../measure/bvh";
import { triangulate, type Character, type ShapeDelta } from "../model/character";
import { UserError } from "../model/userError";
import { neededShape, partNamed } from "./places";

/** The shape and its drivers go. */
export function removeShape(character: Character, name: string): Character {
  neededShape(character, name);
  return { ...character, shapes: character.shapes.filter((s) => s.name !== name), drivers: character.drivers.filter((d) => d.shape !== name) };
}

/** Half width of the seam over which a one-sided shape fades out, metres. */
const SEAM = 0.01;

/** Fades a one-sided shape out over the middle: smooth from all on its own side to nothing on the other. */
export function cutSideLeak(character: Character, name: string): Character {
  const shape = neededShape(character, name);
  const side = sideOfShapeName(name);
  if (!side) throw new UserError(`The name ${name} does not say which side the shape is of.`, "mend", "Rename it with left or right.");
  const deltas = shape.deltas.flatMap((delta): ShapeDelta[] => {
    const P = character.parts[delta.part]!.positions;
    const share = (v: number): number => {
      const t = Math.min(1, Math.max(0, ((side === "left" ? 1 : -1) * P[3 * v]! + SEAM) / (2 * SEAM)));
      return t * t * (3 - 2 * t);
    };
    const kept = Array.from(delta.vertices.keys()).filter((k) => share(delta.vertices[k]!) > 0);
    if (!kept.length) return [];
    return [{ part: delta.part, vertices: Uint32Array.from(kept, (k) => delta.vertices[k]!), deltas: Float32Array.from(kept.flatMap((k) => [0, 1, 2].map((c) => share(delta.vertices[k]!) * delta.deltas[3 * k + c]!))) }];
  });
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, deltas } : s)) };
}

/** Farther from the skin than this a follower is not carried, metres. */
const REACH = 0.03;
const LEAST_MOVE = 1e-6;

/** Gives a part the movement of the skin nearest to each of its vertices, mixed from the three corners of the skin's triangle. What it did before in the shape is replaced. */
export function carryShape(character: Character, partName: string, shapeName: string): Character {
  const shape = neededShape(character, shapeName);
  const { part, index } = partNamed(character, partName);
  const body = character.parts.findIndex((p) => p.kind === "body");
  const skinDelta = shape.deltas.find((d) => d.part === body);
  if (!skinDelta) throw new UserError(`${shapeName} does not move the skin.`, "mend", "");
  const skin = character.parts[body]!.positions;
  const { triangles } = triangulate(character.parts[body]!);
  const bvh = buildBvh(triangles, skin);
  const moves = new Float32Array(skin.length);
  skinDelta.vertices.forEach((v, k) => moves.set(skinDelta.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  const vertices: number[] = [];
  const deltas: number[] = [];
  for (let v = 0; v < part.positions.length / 3; v++) {
    const c = closestPoint(bvh, skin, part.positions[3 * v]!, part.positions[3 * v + 1]!, part.positions[3 * v + 2]!, REACH);
    if (c.triangle < 0) continue;
    const [a, b, d] = [0, 1, 2].map((k) => triangles[3 * c.triangle + k]!) as [number, number, number];
    const share = barycentric(skin, [a, b, d], c);
    const move = [0, 1, 2].map((k) => share[0] * moves[3 * a + k]! + share[1] * moves[3 * b + k]! + share[2] * moves[3 * d + k]!);
    if (Math.hypot(...move) < LEAST_MOVE) continue;
    vertices.push(v);
    deltas.push(...move);
  }
  const made: ShapeDelta = { part: index, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) };
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, deltas: [...s.deltas.filter((d) => d.part !== index), made].sort((x, y) => x.part - y.part) } : s)) };
}

/** Shares of a triangle's corners at a point in it (Ericson 2005, Real-Time Collision Detection, 3.4). */
function barycentric(P: Float32Array, [a, b, c]: readonly [number, number, number], p: { x: number; y: number; z: number }): [number, number, number] {
  const from = (v: number): number[] => [P[3 * v]! - P[3 * a]!, P[3 * v + 1]! - P[3 * a + 1]!, P[3 * v + 2]! - P[3 * a + 2]!];
  const dot = (u: readonly number[], w: readonly number[]): number => u[0]! * w[0]! + u[1]! * w[1]! + u[2]! * w[2]!;
  const [u, w, q] = [from(b), from(c), [p.x - P[3 * a]!, p.y - P[3 * a + 1]!, p.z - P[3 * a + 2]!]];
  const [uu, uw, ww, qu, qw] = [dot(u, u), dot(u, w), dot(w, w), dot(q, u), dot(q, w)];
  const area = uu * ww - uw * uw;
  if (area < 1e-20) return [1, 0, 0];
  const s = (ww * qu - uw * qw) / area;
  const t = (uu * qw - uw * qu) / area;
  return [1 - s - t, s, t];
}
