import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { type Vec3, sub, dot, clamp, length } from "../math/vec3";
import { type Character, faceCountOf, type Part, type SkinBinding } from "../model/character";
import { placesOf } from "../model/places";
import { statureOf } from "./stature";

/** A patch is held by a joint from this weight on; scattered weights far off count from the lower one. */
const HELD = 0.2;
const TOUCHED = 0.03;
interface Island {
  readonly part: number;
  readonly joint: number;
  readonly vertices: number[];
}
type PlaceNeighbours = ReadonlyMap<number, ReadonlySet<number>>;

/** Neighbours along the edges of faces, of the vertices that stand for their places. */
function neighboursByPlace(part: Part): PlaceNeighbours {
  const place = placesOf(part.positions);
  const { corners, faceStarts } = part;
  const neighbours = new Map<number, Set<number>>();
  const join = (v: number, w: number): void => {
    const own = neighbours.get(v);
    if (own) own.add(w);
    else neighbours.set(v, new Set([w]));
  };
  for (let f = 0; f < faceCountOf(part); f++)
    for (let k = faceStarts[f]!, end = faceStarts[f + 1]!; k < end; k++) {
      const v = place[corners[k]!]!;
      const w = place[corners[k + 1 < end ? k + 1 : faceStarts[f]!]!]!;
      join(v, w);
      join(w, v);
    }
  return neighbours;
}

/** Connected patches of vertices that hold at least so much of their weight on one joint. */
function islandsOf(character: Character, p: number, least: number, neighbours: PlaceNeighbours): Island[] {
  const skin = character.parts[p]!.skin!;
  const heldBy = new Map<number, Set<number>>();
  for (const v of neighbours.keys())
    for (let k = 0; k < skin.influenceCount; k++) {
      const n = v * skin.influenceCount + k;
      if (skin.weights[n]! >= least) heldBy.set(skin.joints[n]!, (heldBy.get(skin.joints[n]!) ?? new Set()).add(v));
    }
  const out: Island[] = [];
  for (const [joint, held] of [...heldBy].sort((a, b) => a[0] - b[0])) {
    const left = new Set(held);
    for (const start of held) {
      if (!left.delete(start)) continue;
      const vertices = [start];
      for (let i = 0; i < vertices.length; i++)
        for (const w of neighbours.get(vertices[i]!)!) if (left.delete(w)) vertices.push(w);
      out.push({ part: p, joint, vertices });
    }
  }
  return out;
}
const toSegment = (p: Vec3, a: Vec3, b: Vec3): number => {
  const d = sub(b, a);
  const l2 = dot(d, d);
  const t = l2 > 0 ? clamp(dot(sub(p, a), d) / l2, 0, 1) : 0;
  return length(sub(p, [a[0] + d[0] * t, a[1] + d[1] * t, a[2] + d[2] * t]));
};

export interface StrayIsland extends Island {
  /** Distance of the patch from its joint's bones, metres. */
  readonly away: number;
  /** Whether the joint holds the patch by little, so that what other joints hold is right. */
  readonly slight: boolean;
}
/**
 * Patches bound to a joint that lie apart from the joint's main patch and much nearer to other joints; slight ones too,
 * that hang on a far joint by a few hundredths only. A part that hangs on the joint as a whole has no stray patches:
 * whether it hangs on the right one is another question.
 */
export function strayIslands(character: Character): StrayIsland[] {
  const { skeleton } = character;
  if (!skeleton) return [];
  const world = worldMatrices(skeleton, {});
  const at = skeleton.joints.map((_, j) => translationOf(world, 16 * j));
  const bones = skeleton.joints.map(
    (_, j) =>
      [[at[j]!, at[j]!], ...skeleton.joints.flatMap((c, i) => (c.parent === j ? [[at[j]!, at[i]!]] : []))] as [
        Vec3,
        Vec3,
      ][],
  );
  const distance = (p: Vec3, j: number): number => Math.min(...bones[j]!.map(([a, b]) => toSegment(p, a, b)));
  const far = 0.05 * statureOf(character);
  const wholly = character.parts.map((part) => mainHolders(part.skin));
  const neighbours = character.parts.map((part) => (part.skin ? neighboursByPlace(part) : null));
  const astray = (least: number, room: number, slight: boolean): StrayIsland[] => {
    const islands = neighbours.flatMap((near, p) => (near ? islandsOf(character, p, least, near) : []));
    const largest = new Map<number, Island>();
    for (const island of islands)
      if (island.vertices.length > (largest.get(island.joint)?.vertices.length ?? 0)) largest.set(island.joint, island);
    return islands.flatMap((island) => {
      if (largest.get(island.joint) === island || wholly[island.part]!.has(island.joint)) return [];
      const P = character.parts[island.part]!.positions;
      const mean = [0, 1, 2].map(
        (k) => island.vertices.reduce((n, v) => n + P[3 * v + k]!, 0) / island.vertices.length,
      ) as unknown as Vec3;
      const away = distance(mean, island.joint);
      if (away < room) return [];
      const nearest = Math.min(...skeleton.joints.map((_, j) => (j === island.joint ? Infinity : distance(mean, j))));
      return away < 2 * nearest ? [] : [{ ...island, away, slight }];
    });
  };
  const plain = astray(HELD, far, false);
  const known = new Set(plain.flatMap((i) => i.vertices.map((v) => `${i.part} ${i.joint} ${v}`)));
  const slight = astray(TOUCHED, 2 * far, true).flatMap((i) => {
    const vertices = i.vertices.filter((v) => !known.has(`${i.part} ${i.joint} ${v}`));
    return vertices.length ? [{ ...i, vertices }] : [];
  });
  return [...plain, ...slight];
}
/** Joints that hold half of a part or more. */
function mainHolders(skin: SkinBinding | null): ReadonlySet<number> {
  const held = new Map<number, number>();
  let all = 0;
  skin?.weights.forEach((w, i) => {
    all += w;
    held.set(skin.joints[i]!, (held.get(skin.joints[i]!) ?? 0) + w);
  });
  return new Set([...held].filter(([, w]) => w >= all / 2).map(([j]) => j));
}
