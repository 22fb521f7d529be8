import { lerp, length, normalize, scale, sub, type Vec3 } from "../../../core/math/vec3";
import { EYE_CENTRE, EYE_RADIUS } from "../head/headForm";
import { LID_RINGS, type MarginPlace } from "../head/lidShape";
import { colour, scatter } from "./colour";
import { newPart, type PartMesh, type PartSide } from "./partMesh";

/**
 * What lashes and tear line grow from: the rings round the left eye, and where each skin vertex is now (head units).
 */
export interface LidSkin {
  readonly eyeRings: readonly (readonly number[])[];
  readonly margin: readonly MarginPlace[];
  readonly mirror: readonly number[];
  readonly points: readonly Vec3[];
}

const eyeCentre = (side: PartSide): Vec3 => [EYE_CENTRE[0] * side, EYE_CENTRE[1], EYE_CENTRE[2]];
const pointOf = ({ eyeRings, mirror, points }: LidSkin, ring: number, spoke: number, side: PartSide): Vec3 => {
  const v = eyeRings[ring]![spoke]!;
  return points[side < 0 ? mirror[v]! : v]!;
};
/** Spokes of one lid from the nose outward, between two places of the margin. */
function spokesOf({ margin }: LidSkin, upper: boolean, from: number, to: number): number[] {
  return margin
    .flatMap((m, k) => (m.upper === upper && m.s > from && m.s < to ? [k] : []))
    .sort((a, b) => margin[a]!.s - margin[b]!.s);
}

const LASHES = 26;
/** Half of a strip at its root, head units: it shows three lashes. */
const HALF_WIDTH = 0.55;
const LASH_COLOUR = colour(24, 18, 16);

/** Texture coordinates of the strips, roots at the picture's lower edge. */
export const lashCoordinates = (): Float32Array =>
  Float32Array.from(Array.from({ length: LASHES }, () => [0, 1, 1, 1, 0, 0.5, 1, 0.5, 0, 0, 1, 0]).flat());

/** Upper lashes: strips of two quads that stand out of the lid's margin and bend upward. */
export function lashes(skin: LidSkin, side: PartSide): PartMesh {
  const part = newPart();
  const spokes = spokesOf(skin, true, 0.06, 1.001);
  const centre = eyeCentre(side);
  for (let i = 0; i < LASHES; i++) {
    const place = 0.6 + ((spokes.length - 1.8) * i) / (LASHES - 1);
    const k = Math.min(spokes.length - 2, Math.floor(place));
    const a = pointOf(skin, LID_RINGS, spokes[k]!, side);
    const b = pointOf(skin, LID_RINGS, spokes[k + 1]!, side);
    const root = lerp(a, b, place - k);
    const [sA, sB] = [skin.margin[spokes[k]!]!.s, skin.margin[spokes[k + 1]!]!.s];
    addLash(part, root, normalize(sub(b, a)), normalize(sub(root, centre)), sA + (sB - sA) * (place - k), i, side);
  }
  return part;
}

function addLash(part: PartMesh, root: Vec3, along: Vec3, out: Vec3, s: number, i: number, side: PartSide): void {
  const lash = (2.4 + 2.9 * s) * (0.85 + 0.3 * scatter(i)) * (s > 0.93 ? 0.8 : 1);
  const lean: Vec3 = [side * 0.55 * (s - 0.4), -0.25, 0];
  const first = part.points.length;
  for (let step = 0; step <= 2; step++) {
    const u = step / 2;
    const p = [0, 1, 2].map(
      (c) => root[c]! - out[c]! * 0.15 + (out[c]! * 0.85 + lean[c]!) * lash * u + (c === 1 ? lash * 0.62 * u * u : 0),
    );
    const half = HALF_WIDTH * (1 - u * 0.35);
    for (const edge of [-1, 1])
      part.add(
        [p[0]! + along[0] * half * edge, p[1]! + along[1] * half * edge, p[2]! + along[2] * half * edge],
        LASH_COLOUR,
      );
  }
  for (let step = 0; step < 2; step++) {
    const a = first + step * 2;
    part.quads.push([a, a + 2, a + 3, a + 1]);
  }
}

const TEAR_COLOUR = colour(236, 200, 192);

/** A thin wet strip between the lower lid's edge and the eyeball. */
export function tearLine(skin: LidSkin, side: PartSide): PartMesh {
  const part = newPart();
  const centre = eyeCentre(side);
  const spokes = spokesOf(skin, false, 0.04, 0.97);
  for (const spoke of spokes) {
    const edge = pointOf(skin, LID_RINGS, spoke, side);
    const inner = pointOf(skin, LID_RINGS + 1, spoke, side);
    const raised = sub(inner, centre);
    const out: Vec3 = [raised[0], raised[1] + 0.9, raised[2]];
    const onBall = (r: number): Vec3 => {
      const q = scale(out, r / length(out));
      return [centre[0] + q[0], centre[1] + q[1], centre[2] + q[2]];
    };
    part.add(lerp(edge, inner, 0.75), TEAR_COLOUR);
    part.add(lerp(inner, onBall(EYE_RADIUS + 0.5), 0.5), TEAR_COLOUR);
    part.add(onBall(EYE_RADIUS + 0.12), TEAR_COLOUR);
  }
  for (let i = 0; i + 1 < spokes.length; i++)
    for (let row = 0; row < 2; row++) {
      const a = i * 3 + row;
      part.quads.push(side > 0 ? [a, a + 3, a + 4, a + 1] : [a, a + 1, a + 4, a + 3]);
    }
  return part;
}
