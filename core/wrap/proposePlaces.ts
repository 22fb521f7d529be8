import type { PlainMesh } from "../formats/readPly";
import type { Vec3 } from "../math/vec3";
import { buildBvh, closestPoint } from "../measure/bvh";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, type Character } from "../model/character";
import type { SkinTie } from "../transfer/layOn";
import type { FaceLandmark } from "./faceLandmarks";
import { layOnScan } from "./layOnScan";
import { scanPart } from "./placeScan";

/** Places are proposed after the stiff half of the steps: what is proposed is a first place, and is looked at. */
const CLOSENESS = 0.6;
/** A landmark that comes to lie farther than this from the scan has no place on it, metres. */
const REACH = 0.02;

/**
 * Proposes where on a placed scan the landmarks of a face are: the skin is laid on it roughly, with the places that are known, and each other landmark takes the nearest
 * place of the scan. @param scan in the character's place, metres. @param known places set by hand, by landmark.
 * @returns for each landmark its place, or null where the scan has none near.
 */
export async function proposePlaces(character: Character, scan: PlainMesh, landmarks: readonly FaceLandmark[], known: ReadonlyMap<string, Vec3>, tick: Tick = () => {}): Promise<(Vec3 | null)[]> {
  const ties = landmarks.flatMap((l): SkinTie[] => (known.has(l.id) ? [{ corners: l.corners, shares: l.shares, to: known.get(l.id)! }] : []));
  const { deltas } = await layOnScan(character, scan, { ties, closeness: CLOSENESS }, tick);
  const body = character.parts.findIndex((p) => p.kind === "body");
  const moved = character.parts[body]!.positions.slice();
  for (const d of deltas) if (d.part === body) d.vertices.forEach((v, k) => [0, 1, 2].forEach((c) => (moved[3 * v + c]! += d.deltas[3 * k + c]!)));
  const bvh = buildBvh(triangulate(scanPart(scan)).triangles, scan.positions);
  return landmarks.map((l) => {
    const set = known.get(l.id);
    if (set) return set;
    const at = [0, 1, 2].map((c) => l.corners.reduce((sum, v, k) => sum + l.shares[k]! * moved[3 * v + c]!, 0)) as unknown as Vec3;
    const c = closestPoint(bvh, scan.positions, ...at, REACH);
    return c.triangle < 0 ? null : [c.x, c.y, c.z];
  });
}

