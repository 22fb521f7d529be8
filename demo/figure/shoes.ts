import { dot, lerp, normalize, sub, type Vec3 } from "../../core/math/vec3";
import { mix, smoothstep } from "../modelling/blend";
import { addScaled, gradientDirection, mirroredField } from "../modelling/fields";
import type { Quad } from "../modelling/quadMesh";
import { ANKLE, FOOT } from "./body/legForm";
import { makeGarment, type Cut } from "./garments";
import { prune, type VertexWeights } from "./rig/skinWeights";
import { JOINTS } from "./rig/joints";
import type { Skin } from "./skin/buildSkin";
import { wholeForm } from "./skin/wholeForm";

/** A pair of shoes. Metres, rest space. */
export interface Shoes {
  readonly points: readonly Vec3[];
  readonly weights: readonly VertexWeights[];
  /** Faces of the uppers, three to five corners each. */
  readonly uppers: readonly (readonly number[])[];
  readonly soles: readonly (readonly number[])[];
}

/** How far in front of the ankle. */
const forwardOnFoot = ([x, y, z]: Vec3): number => dot(sub([Math.abs(x), y, z], ANKLE), FOOT);
const UPPER: Cut = {
  takes: (t) => t.region === "foot" && t.ring >= 1,
  ease: (p) => mix(0.008, 0.006, smoothstep(0.02, 0.06, p[1])) + 0.005 * smoothstep(0.1, 0.17, forwardOnFoot(p)),
  rounds: 60,
  onGround: true,
  // the few rows round the heel stay where they are, or they leave it bare
  slides: (p) => smoothstep(0.08, 0.12, forwardOnFoot(p)),
};
/** The sole ends at this height, and stands out by so much. Metres. */
const SOLE = 0.017;
const WELT = 0.003;
/** No corner of the shell lies nearer to the cut than this, metres. */
const CLEAR = 0.003;

/** Shoes grown from the skin of the feet: uppers off the toes, cut level, on soles that stand out under them. */
export function makeShoes(skin: Skin, skinWeights: readonly VertexWeights[]): Shoes {
  const shell = makeGarment(skin, skinWeights, UPPER);
  const points = shell.points.map(([x, y, z]): Vec3 => [x, Math.abs(y - SOLE) < CLEAR ? SOLE + CLEAR : y, z]);
  const weights = shell.weights.slice();
  const outward = outwardFrom(mirroredField(wholeForm));
  const crossings = new Map<string, readonly [upper: number, lower: number]>();
  const crossing = (a: number, b: number): readonly [number, number] => {
    const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
    const known = crossings.get(key);
    if (known) return known;
    const t = (SOLE - points[a]![1]) / (points[b]![1] - points[a]![1]);
    const p = lerp(points[a]!, points[b]!, t);
    const made = [points.push(p) - 1, points.push(addScaled(p, outward(p), WELT)) - 1] as const;
    const shared = mixed(weights[a]!, weights[b]!, t);
    weights.push(shared, shared);
    crossings.set(key, made);
    return made;
  };
  const isUpper = points.map(([, y]) => y >= SOLE);
  const cut = shell.quads.map((q) => cutLevel(q, isUpper, crossing));
  isUpper.forEach((above, v) => {
    const p = points[v]!;
    if (!above) points[v] = addScaled([p[0], 0, p[2]], outward(p), WELT / 2);
  });
  return { points, weights, uppers: cut.flatMap((c) => c.uppers), soles: cut.flatMap((c) => c.soles) };
}

/** Horizontally away from the foot. */
const outwardFrom =
  (form: Parameters<typeof gradientDirection>[0]) =>
  (p: Vec3): Vec3 => {
    const [x, , z] = gradientDirection(form, [p[0], SOLE, p[2]], 2e-3);
    return normalize([x, 0, z]);
  };

/** One quad above and below the cut, with the ledge between the two where it crosses. */
function cutLevel(
  quad: Quad,
  isUpper: readonly boolean[],
  crossing: (a: number, b: number) => readonly [upper: number, lower: number],
): Pick<Shoes, "uppers" | "soles"> {
  const upper: number[] = [];
  const lower: number[] = [];
  let down: readonly [number, number] | null = null;
  let up: readonly [number, number] | null = null;
  quad.forEach((a, k) => {
    const b = quad[(k + 1) % 4]!;
    (isUpper[a] ? upper : lower).push(a);
    if (isUpper[a] === isUpper[b]) return;
    const made = crossing(a, b);
    upper.push(made[0]);
    lower.push(made[1]);
    if (isUpper[a]) down = made;
    else up = made;
  });
  const ledge = down && up ? [[up[0], down[0], down[1], up[1]]] : [];
  return { uppers: upper.length ? [upper] : [], soles: [...(lower.length ? [lower] : []), ...ledge] };
}

function mixed(a: VertexWeights, b: VertexWeights, t: number): VertexWeights {
  const sum = new Float64Array(JOINTS.length);
  for (const [joint, share] of a) sum[joint]! += share * (1 - t);
  for (const [joint, share] of b) sum[joint]! += share * t;
  return prune(sum);
}
