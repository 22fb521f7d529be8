import type { Part, Skeleton } from "../model/character";

/** Both the joint and its parent must hold this much of a vertex. */
const SHARED = 0.25;

/** Per joint the ring of skin where it takes over from its parent: vertices that both hold by a quarter or more. */
export function jointNeighbourhoods(part: Part, skeleton: Skeleton): number[][] {
  const rings = skeleton.joints.map((): number[] => []);
  const { skin } = part;
  if (!skin) return rings;
  const n = skin.influenceCount;
  for (let v = 0; v < part.positions.length / 3; v++) {
    const held = Array.from({ length: n }, (_, k) => k)
      .filter((k) => skin.weights[n * v + k]! >= SHARED)
      .map((k) => skin.joints[n * v + k]!);
    for (const joint of held) if (held.includes(skeleton.joints[joint]!.parent)) rings[joint]!.push(v);
  }
  return rings;
}
