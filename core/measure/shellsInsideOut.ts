import { type Part, faceCountOf } from "../model/character";
import { shellsOf } from "../model/shells";
import { meshEdges } from "../surface/meshEdges";

/** Closed shells that enclose a negative volume: by their lowest vertex, in file order. */
export function shellsInsideOut(part: Part): number[] {
  const shell = shellsOf(part, true);
  const { place, facesOfEdge } = meshEdges(part);
  const open = new Set<number>();
  for (const [key, faces] of facesOfEdge) if (faces.length !== 2) open.add(shell[Math.floor(key / place.length)]!);
  const volume = new Map<number, number>();
  const P = part.positions;
  for (let f = 0; f < faceCountOf(part); f++) {
    const [s, e] = [part.faceStarts[f]!, part.faceStarts[f + 1]!];
    const id = shell[part.corners[s]!]!;
    if (open.has(id)) continue;
    const o = 3 * part.corners[s]!;
    let sum = 0;
    for (let k = s + 1; k + 1 < e; k++) {
      const a = 3 * part.corners[k]!;
      const b = 3 * part.corners[k + 1]!;
      // about the shell's first vertex, so that a shell far from the origin keeps its digits
      const q = 3 * id;
      const at = (i: number): [number, number, number] => [P[i]! - P[q]!, P[i + 1]! - P[q + 1]!, P[i + 2]! - P[q + 2]!];
      const [u, v, w] = [at(o), at(a), at(b)];
      sum +=
        u[0] * (v[1] * w[2] - v[2] * w[1]) + u[1] * (v[2] * w[0] - v[0] * w[2]) + u[2] * (v[0] * w[1] - v[1] * w[0]);
    }
    volume.set(id, (volume.get(id) ?? 0) + sum);
  }
  return [...volume]
    .filter(([, v]) => v < 0)
    .map(([id]) => id)
    .sort((a, b) => a - b);
}
