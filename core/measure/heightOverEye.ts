import { triangulate, type Character } from "../model/character";
import { buildBvh, castRay } from "../math/bvh";
import type { Eyeball } from "./eyeballs";

/**
 * Height of a point over the eyeball's surface along the ray from its centre, metres, below zero inside; null where the
 * eyeball is open that way.
 */
export function heightOverEye(character: Character, eye: Eyeball): (p: readonly number[]) => number | null {
  const P = character.parts[eye.part]!.positions;
  const ball = buildBvh(triangulate(character.parts[eye.part]!).triangles, P);
  const [cx, cy, cz] = eye.centre;
  return (p) => {
    const d = [p[0]! - cx!, p[1]! - cy!, p[2]! - cz!];
    const l = Math.hypot(...d);
    let surface: number | null = null;
    castRay(ball, P, cx!, cy!, cz!, d[0]! / l, d[1]! / l, d[2]! / l, (_, distance) => {
      surface = Math.max(surface ?? 0, distance);
    });
    return surface === null ? null : l - surface;
  };
}
