import { add, sub, type Vec3 } from "../../../core/math/vec3";
import { brow } from "../parts/brows";
import { eyeballPoints } from "../parts/eyes";
import { lashes, tearLine } from "../parts/lashes";
import { teeth } from "../parts/teeth";
import { tongue, TONGUE_POSES } from "../parts/tongue";
import type { PartSide } from "../parts/partMesh";
import type { Skin } from "../skin/buildSkin";
import { headPlaceOf } from "../skin/skinTags";
import type { FaceUnit } from "./faceUnit";
import { jawMove } from "./jaw";

const SIDES = [
  ["left", 1],
  ["right", -1],
] as const;
const difference = (moved: readonly Vec3[], rest: readonly Vec3[]): Vec3[] => moved.map((p, i) => sub(p, rest[i]!));

/**
 * What the separate parts do when the skin moves: brows ride on the skin, lashes and tear line are rebuilt on the moved
 * lid, teeth, tongue and eyeballs have rules of their own. Head units.
 * @param rest skin at rest.
 */
export function makeFollowers(
  skin: Skin,
  rest: readonly Vec3[],
): (movement: readonly Vec3[], unit: FaceUnit) => Map<string, readonly Vec3[]> {
  const lidSkin = { eyeRings: skin.head.eyeRings, margin: skin.head.margin, mirror: skin.mirror };
  const rebuilt = (
    points: readonly Vec3[],
    side: PartSide,
  ): { lashes: readonly Vec3[]; tearLine: readonly Vec3[] } => ({
    lashes: lashes({ ...lidSkin, points }, side).points,
    tearLine: tearLine({ ...lidSkin, points }, side).points,
  });
  const bind = bindToBrowSkin(skin, rest);
  const atRest = {
    left: { ...rebuilt(rest, 1), brow: brow(1).points.map(bind), eye: eyeballPoints(1) },
    right: { ...rebuilt(rest, -1), brow: brow(-1).points.map(bind), eye: eyeballPoints(-1) },
    teeth: teeth(false).points,
    tongue: tongue(TONGUE_POSES.rest).points,
  };
  return (movement, { jaw, tongue: tonguePose, pupil }) => {
    const out = new Map<string, readonly Vec3[]>([["body", movement]]);
    const moved = rest.map((p, v): Vec3 => [p[0] + movement[v]![0], p[1] + movement[v]![1], p[2] + movement[v]![2]]);
    for (const [side, sign] of SIDES) {
      const now = rebuilt(moved, sign);
      out.set(
        `brow ${side}`,
        atRest[side].brow.map((binding) => weighted(binding, movement)),
      );
      out.set(`lashes ${side}`, difference(now.lashes, atRest[side].lashes));
      out.set(`tear line ${side}`, difference(now.tearLine, atRest[side].tearLine));
      if (pupil !== undefined) out.set(`eye ${side}`, difference(eyeballPoints(sign, pupil), atRest[side].eye));
    }
    const withJaw = (p: Vec3): Vec3 =>
      // the tongue's root stays behind
      jaw ? jawMove(p, jaw, 0.55 + 0.45 * Math.min(1, Math.max(0, (p[2] - 46) / 16))) : [0, 0, 0];
    if (jaw)
      out.set(
        "teeth lower",
        atRest.teeth.map((p) => jawMove(p, jaw)),
      );
    if (jaw || tonguePose) {
      const posed = tonguePose ? tongue(TONGUE_POSES[tonguePose]).points : atRest.tongue;
      out.set(
        "tongue",
        posed.map((p, i) => add(sub(p, atRest.tongue[i]!), withJaw(atRest.tongue[i]!))),
      );
    }
    return out;
  };
}

type Binding = readonly { readonly vertex: number; readonly share: number }[];

function weighted(binding: Binding, movement: readonly Vec3[]): Vec3 {
  let [x, y, z] = [0, 0, 0];
  for (const { vertex, share } of binding) {
    x += share * movement[vertex]![0];
    y += share * movement[vertex]![1];
    z += share * movement[vertex]![2];
  }
  return [x, y, z];
}

/** Binds a point to the four nearest skin vertices above the eyes. */
function bindToBrowSkin(skin: Skin, rest: readonly Vec3[]): (p: Vec3) => Binding {
  const candidates: number[] = [];
  for (let v = 0; v < skin.headCount; v++) {
    const [, y, z] = rest[v]!;
    if (headPlaceOf(skin.tags[v]!)?.zone === "grid" && z > 45 && y > 0 && y < 45) candidates.push(v);
  }
  return (p) => {
    const nearest = candidates
      .map((vertex) => ({ vertex, d: Math.hypot(...sub(p, rest[vertex]!)) }))
      .sort((a, b) => a.d - b.d || a.vertex - b.vertex)
      .slice(0, 4);
    const shares = nearest.map(({ d }) => 1 / (d * d + 0.05));
    const total = shares.reduce((a, b) => a + b, 0);
    return nearest.map(({ vertex }, i) => ({ vertex, share: shares[i]! / total }));
  };
}
