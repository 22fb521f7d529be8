import type { Character, ShapeDelta } from "../model/character";
import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";

/** A name with its side word exchanged, or with "mirrored" behind it when it has none. */
export function mirrorName(name: string): string {
  const swapped = name.replace(/left|right/gi, (w) => {
    const other = w.toLowerCase() === "left" ? "right" : "left";
    return w[0] === w[0]!.toUpperCase() ? other[0]!.toUpperCase() + other.slice(1) : other;
  });
  return swapped === name ? `${name} mirrored` : swapped;
}
/** Movement mirrored at x = 0, vertex by vertex within each part, and across parts named for the other side. */
export function mirrorDeltas(
  character: Character,
  deltas: readonly ShapeDelta[],
): { deltas: ShapeDelta[]; unmatched: number } {
  let unmatched = 0;
  const out = deltas.map((delta): ShapeDelta => {
    const part = character.parts[delta.part]!;
    const other = character.parts.findIndex(
      (p) => p.name === mirrorName(part.name) && p.positions.length === part.positions.length,
    );
    const map = other >= 0 ? null : mirrorMap(part.positions);
    const vertices: number[] = [];
    const values: number[] = [];
    delta.vertices.forEach((v, k) => {
      const m = map ? map[v]! : v;
      if (m === NO_MIRROR) return void unmatched++;
      vertices.push(m);
      values.push(-delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!);
    });
    return {
      part: other >= 0 ? other : delta.part,
      vertices: Uint32Array.from(vertices),
      deltas: Float32Array.from(values),
    };
  });
  return { deltas: out, unmatched };
}
