import { triangleCountOf, triangulate, type Character } from "../model/character";

/** Binary STL of all parts at the given positions (metres). */
export function writeStl(character: Character, positions: readonly Float32Array[]): Uint8Array {
  const count = character.parts.reduce((n, p) => n + triangleCountOf(p), 0);
  const out = new Uint8Array(84 + 50 * count);
  const view = new DataView(out.buffer);
  view.setUint32(80, count, true);
  let at = 84;
  character.parts.forEach((part, p) => {
    const P = positions[p]!;
    const { triangles } = triangulate(part);
    for (let t = 0; t < triangles.length; t += 3) {
      const [a, b, c] = [3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!];
      const u = [0, 1, 2].map((k) => P[b + k]! - P[a + k]!);
      const v = [0, 1, 2].map((k) => P[c + k]! - P[a + k]!);
      const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
      const l = Math.hypot(...n) || 1;
      n.forEach((x, k) => view.setFloat32(at + 4 * k, x / l, true));
      [a, b, c].forEach((i, corner) =>
        [0, 1, 2].forEach((k) => view.setFloat32(at + 12 + 12 * corner + 4 * k, P[i + k]!, true)),
      );
      at += 50;
    }
  });
  return out;
}
