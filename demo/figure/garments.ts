import { add, cross, dot, lerp, normalize, scale, sub, type Vec3 } from "../../core/math/vec3";
import { mix, smoothstep } from "../modelling/blend";
import { addScaled, at, gradientDirection, mirroredField } from "../modelling/fields";
import { meanOf, neighbourSets, type Quad } from "../modelling/quadMesh";
import { JOINTS } from "./rig/joints";
import { prune, type VertexWeights } from "./rig/skinWeights";
import type { Skin } from "./skin/buildSkin";
import type { SkinTag } from "./skin/skinTags";
import { wholeForm } from "./skin/wholeForm";

/** A garment grown from the skin's own quads. Metres, rest space. */
export interface Garment {
  readonly points: readonly Vec3[];
  readonly quads: readonly Quad[];
  readonly weights: readonly VertexWeights[];
}
export interface Cut {
  readonly takes: (tag: SkinTag) => boolean;
  /** How far off the skin the cloth lies. */
  readonly ease: (p: Vec3) => number;
  readonly rounds: number;
  /** Height below which the two legs are kept apart. */
  readonly legsBelow?: number;
  /** Whether it stands on the ground and goes no lower. */
  readonly onGround?: boolean;
  /** How freely it slides over the skin as it evens out, 0..1; freely where nothing is said. */
  readonly slides?: (p: Vec3) => number;
}

const SHIRT: Cut = {
  takes: (t) =>
    (t.region === "torso" && !t.crotch && t.row >= 3 && t.row <= 26) || (t.region === "arm" && t.along < 0.21),
  ease: ([x, y]) =>
    Math.abs(x) > 0.21
      ? 0.011
      : mix(0.01, 0.024, smoothstep(1.22, 1.02, y)) + (y > 1.36 ? -0.004 * smoothstep(1.36, 1.4, y) : 0),
  rounds: 50,
};
const TROUSERS: Cut = {
  takes: (t) => (t.region === "torso" && t.row <= 8) || (t.region === "leg" && t.ring <= 25),
  ease: ([, y]) => mix(0.007, 0.02, smoothstep(0.8, 0.3, y)) + (y > 0.95 ? -0.002 : 0),
  rounds: 30,
  legsBelow: 0.775,
};
/** Skin wholly under shirt, trousers and shoes. */
export const isCovered = (t: SkinTag): boolean =>
  (t.region === "torso" && t.row < 26) ||
  (t.region === "arm" && t.along < 0.17) ||
  (t.region === "leg" && t.ring < 24) ||
  (t.region === "foot" && t.ring >= 3);

export const makeShirt = (skin: Skin, weights: readonly VertexWeights[]): Garment => makeGarment(skin, weights, SHIRT);
export const makeTrousers = (skin: Skin, weights: readonly VertexWeights[]): Garment =>
  makeGarment(skin, weights, TROUSERS);

/** Cloth over the skin that a cut takes, off it by the cut's ease, with a hem. */
export function makeGarment(skin: Skin, weights: readonly VertexWeights[], cut: Cut): Garment {
  const { points, quads } = copyQuads(skin, cut.takes);
  const border = borderOf(quads);
  const neighbours = neighbourSets(quads, points.length);
  easeOff(points, neighbours, border, cut);
  addHem(points, quads, neighbours, border);
  return { points, quads, weights: clothWeights(points, quads, skin, weights) };
}

function copyQuads(skin: Skin, takes: (tag: SkinTag) => boolean): { points: Vec3[]; quads: Quad[] } {
  const points: Vec3[] = [];
  const clothFromSkin = new Map<number, number>();
  const quads = skin.quads
    .filter((q) => q.every((v) => takes(skin.tags[v]!)))
    .map(
      (q) =>
        q.map((v) => {
          if (!clothFromSkin.has(v)) clothFromSkin.set(v, points.push(skin.points[v]!) - 1);
          return clothFromSkin.get(v)!;
        }) as Quad,
    );
  return { points, quads };
}

interface Border {
  /** Sides of quads that no other quad shares, in the quads' sense. */
  readonly sides: readonly (readonly [number, number])[];
  /** Per border vertex its neighbours on the border. */
  readonly along: ReadonlyMap<number, readonly number[]>;
}

function borderOf(quads: readonly Quad[]): Border {
  const key = (a: number, b: number): string => `${Math.min(a, b)} ${Math.max(a, b)}`;
  const sides = quads.flatMap((q) => q.map((a, k) => [a, q[(k + 1) % 4]!] as const));
  const uses = new Map<string, number>();
  for (const [a, b] of sides) uses.set(key(a, b), (uses.get(key(a, b)) ?? 0) + 1);
  const open = sides.filter(([a, b]) => uses.get(key(a, b)) === 1);
  const along = new Map<number, number[]>();
  for (const [a, b] of open)
    for (const [v, other] of [
      [a, b],
      [b, a],
    ] as const) {
      if (!along.has(v)) along.set(v, []);
      along.get(v)!.push(other);
    }
  return { sides: open, along };
}

/** Pushes the cloth off the skin and evens it out. */
function easeOff(
  points: Vec3[],
  neighbours: readonly ReadonlySet<number>[],
  border: Border,
  { ease, rounds, legsBelow, onGround, slides }: Cut,
): void {
  const skinForm = mirroredField(wholeForm);
  const sides = points.map((p) => (Math.abs(p[0]) < 1e-5 ? 0 : Math.sign(p[0])));
  const pushed = (start: Vec3, v: number): Vec3 => {
    let p = start;
    for (let k = 0; k < 3; k++) {
      const wanted = ease(p);
      const off = at(skinForm, p);
      if (off >= wanted - 1e-4) break;
      p = addScaled(p, gradientDirection(skinForm, p, 2e-3), Math.min(0.01, wanted - off));
    }
    if (onGround && p[1] < 0) p = [p[0], 0, p[2]];
    const side = sides[v]!;
    if (side === 0) return [0, p[1], p[2]];
    return legsBelow !== undefined && p[1] < legsBelow && p[0] * side < 0.003 ? [0.003 * side, p[1], p[2]] : p;
  };
  points.forEach((p, v) => (points[v] = pushed(p, v)));
  for (let round = 0; round < rounds; round++) {
    const before = points.slice();
    before.forEach((p, v) => {
      const onBorder = border.along.get(v);
      const step = scale(sub(meanOf(before, onBorder ?? neighbours[v]!), p), onBorder ? 0.25 : 0.5);
      points[v] = pushed(add(p, slides ? held(step, gradientDirection(skinForm, p, 2e-3), slides(p)) : step), v);
    });
  }
}

/** A step with its part along the surface cut down to a share. @param off unit vector off the surface. */
const held = (step: Vec3, off: Vec3, share: number): Vec3 => lerp(scale(off, dot(step, off)), step, share);

/** Doubles the border inward and folds it back: cloth with a thickness and a hem of 18 mm. */
function addHem(
  points: Vec3[],
  quads: Quad[],
  neighbours: readonly ReadonlySet<number>[],
  { sides, along }: Border,
): void {
  const normals = points.map((): Vec3 => [0, 0, 0]);
  for (const q of quads) {
    const n = cross(sub(points[q[2]]!, points[q[0]]!), sub(points[q[3]]!, points[q[1]]!));
    for (const v of q) normals[v] = add(normals[v]!, n);
  }
  const inside = new Map<number, readonly [number, number]>();
  for (const v of along.keys()) {
    const inward = [...neighbours[v]!]
      .filter((n) => !along.has(n))
      .reduce<Vec3>((sum, n) => add(sum, sub(points[n]!, points[v]!)), [0, 0, 0]);
    const normal = normalize(normals[v]!);
    const thick = points.push(addScaled(points[v]!, normal, -0.0035)) - 1;
    const folded = points.push(addScaled(addScaled(points[v]!, normal, -0.0045), normalize(inward), 0.018)) - 1;
    inside.set(v, [thick, folded]);
  }
  for (const [a, b] of sides) {
    const [thickA, foldedA] = inside.get(a)!;
    const [thickB, foldedB] = inside.get(b)!;
    quads.push([b, a, thickA, thickB], [thickB, thickA, foldedA, foldedB]);
  }
}

// ---- weights
const CELL = 0.045;
const NEAREST = 8;

/**
 * Weights of the eight nearest skin vertices of the same side, by inverse square distance, then evened out over the
 * cloth.
 */
function clothWeights(
  points: readonly Vec3[],
  quads: readonly Quad[],
  skin: Skin,
  weights: readonly VertexWeights[],
): VertexWeights[] {
  const near = nearestSkin(skin);
  let shares = points.map((p) => {
    const sum = new Float64Array(JOINTS.length);
    let total = 0;
    for (const { distance, vertex } of near(p)) {
      const w = 1 / (distance * distance + 4e-5);
      total += w;
      for (const [joint, share] of weights[vertex]!) sum[joint]! += share * w;
    }
    return sum.map((s) => s / total);
  });
  const neighbours = neighbourSets(quads, points.length);
  for (let round = 0; round < 4; round++) {
    const before = shares;
    shares = before.map((own, v) => {
      const mean = new Float64Array(own.length);
      const share = neighbours[v]!.size;
      for (const n of neighbours[v]!) {
        const other = before[n]!;
        for (let j = 0; j < other.length; j++) if (other[j]) mean[j]! += other[j]! / share;
      }
      return own.map((s, j) => mix(s, mean[j]!, 0.5));
    });
  }
  return shares.map(prune);
}

function nearestSkin(skin: Skin): (p: Vec3) => { distance: number; vertex: number }[] {
  const cellOf = (p: Vec3): number[] => p.map((v) => Math.floor(v / CELL));
  const cells = new Map<string, number[]>();
  skin.points.forEach((p, v) => {
    if (skin.tags[v]!.region === "head") return;
    const key = cellOf(p).join();
    if (!cells.has(key)) cells.set(key, []);
    cells.get(key)!.push(v);
  });
  const isOtherSide = (a: Vec3, b: Vec3): boolean => a[0] * b[0] < -1e-6 && Math.abs(b[0]) > 0.002;
  return (p) => {
    const [cx, cy, cz] = cellOf(p) as [number, number, number];
    let found: { distance: number; vertex: number }[] = [];
    for (let reach = 1; reach < 4 && found.length < NEAREST; reach++) {
      found = [];
      for (let x = -reach; x <= reach; x++)
        for (let y = -reach; y <= reach; y++)
          for (let z = -reach; z <= reach; z++)
            for (const vertex of cells.get(`${cx + x},${cy + y},${cz + z}`) ?? []) {
              const q = skin.points[vertex]!;
              if (!isOtherSide(q, p)) found.push({ distance: Math.hypot(...sub(q, p)), vertex });
            }
    }
    return found.sort((a, b) => a.distance - b.distance).slice(0, NEAREST);
  };
}
