import type { PlainMesh } from "../formats/readPly";
import { applySimilarity, fitSimilarity, SAME_PLACE, type Similarity } from "../math/similarity";
import type { Vec3 } from "../math/vec3";
import { buildBvh, closestPoint } from "../math/bvh";
import type { Tick } from "../measure/sweepMotion";
import { triangulate, type Character } from "../model/character";
import { movedBy } from "../model/movedBy";
import type { SkinTie } from "../transfer/layOn";
import type { FaceLandmark } from "../measure/faceLandmarks";
import { evened, layOnScan } from "./layOnScan";
import { scanPart } from "./placeScan";
import { after } from "./stepOnto";

/** Places are proposed after the stiff half of the steps: what is proposed is a first place, and is looked at. */
const CLOSENESS = 0.6;
/** A landmark that comes to lie farther than this from the scan has no place on it, metres. */
const REACH = 0.02;

/**
 * Proposes where on a placed scan the landmarks of a face are: the skin is laid on it roughly, with the places that
 * are known, and each other landmark takes the nearest
 * place of the scan. @param scan in the character's place, metres. @param known places set by hand, by landmark.
 * @returns for each landmark its place, or null where the scan has none near; and the small turn and shift that would
 * bring both sides of the face alike.
 */
export async function proposePlaces(
  character: Character,
  scan: PlainMesh,
  landmarks: readonly FaceLandmark[],
  known: ReadonlyMap<string, Vec3>,
  tick: Tick = () => {},
): Promise<{ places: (Vec3 | null)[]; straight: Similarity }> {
  const ties = landmarks.flatMap((l): SkinTie[] =>
    known.has(l.id) ? [{ corners: l.corners, shares: l.shares, to: known.get(l.id)! }] : [],
  );
  const { deltas } = await layOnScan(character, scan, { ties, closeness: CLOSENESS }, tick);
  const body = character.parts.findIndex((p) => p.kind === "body");
  const P = character.parts[body]!.positions;
  const delta = deltas.find((d) => d.part === body);
  const moved = delta ? movedBy(character.parts[body]!, delta).moved : P;
  const bvh = buildBvh(triangulate(scanPart(scan)).triangles, scan.positions);
  const places = landmarks.map((l): Vec3 | null => {
    const set = known.get(l.id);
    if (set) return set;
    const at = [0, 1, 2].map((c) =>
      l.corners.reduce((sum, v, k) => sum + l.shares[k]! * moved[3 * v + c]!, 0),
    ) as unknown as Vec3;
    const c = closestPoint(bvh, scan.positions, ...at, REACH);
    return c.triangle < 0 ? null : [c.x, c.y, c.z];
  });
  return { places, straight: straightened(P, moved, delta?.vertices ?? new Uint32Array(0)) };
}

const ROUNDS = 8;

/** The turn and shift after which a laid face is most like its mirror image. @param laid vertices that were laid. */
function straightened(P: Float32Array, moved: Float32Array, laid: Uint32Array): Similarity {
  let now = moved;
  let all = SAME_PLACE;
  if (laid.length < 50) return all;
  const pick = (A: Float32Array): number[] =>
    Array.from(laid).flatMap((v) => [A[3 * v]!, A[3 * v + 1]!, A[3 * v + 2]!]);
  for (let round = 0; round < ROUNDS; round++) {
    const step = fitSimilarity(pick(now), pick(evened(P, now)), { rounds: 1, mirrored: false, scale: 1 });
    all = after(step, all);
    const next = now.slice();
    for (const v of laid) next.set(applySimilarity(step, now[3 * v]!, now[3 * v + 1]!, now[3 * v + 2]!), 3 * v);
    now = next;
  }
  return all;
}
