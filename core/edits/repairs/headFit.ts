import { castRay, type Bvh } from "../../math/bvh";
import { restTree } from "../../surface/restTree";
import { statureOf } from "../../measure/stature";
import { computeNormals } from "../../deform/computeNormals";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { boxOf } from "../../math/boxOf";
import { translationOf } from "../../math/mat4";
import { length, sub, type Vec3 } from "../../math/vec3";
import { partNamed } from "../mend/places";
import { triangulate, type Character, type Part } from "../../model/character";
import { placesOf } from "../../model/places";
import { UserError } from "../../model/userError";
import type { Seat } from "./seatPart";

/** Places of the head's skin that are asked. */
const SAMPLES = 500;
/** The part's inner side is looked for from so deep under the skin to so far over it, metres. */
const UNDER = 0.03;
const REACH = 0.06;
/**
 * A height that differs by more than this counts as this, and skin without cover as BARE, metres: a face and the nape
 * have none.
 */
const LOOSE = 0.02;
const BARE = 0.008;
/** Skin that stands out of the part counts so many times what lies under it. */
const OUT = 4;
/** Steps of the search, metres. */
const STEPS = [0.064, 0.032, 0.016, 0.008, 0.004, 0.002, 0.001, 0.0005];

interface Head {
  readonly crown: Vec3;
  readonly width: number;
  /** Places of its skin from the brow up, and which way is out. */
  readonly places: readonly { readonly at: Vec3; readonly out: Vec3 }[];
}
interface Cover {
  readonly bvh: Bvh;
  readonly P: Float32Array;
}

function coverOf(part: Part, P: Float32Array): Cover {
  return { P, bvh: restTree(triangulate(part).triangles, P) };
}

/**
 * How unevenly the cover lies on the head, were it moved by so much: root mean square over the head's skin of what its
 * height differs from the usual one.
 */
function offSeat(cover: Cover, head: Head, by: Vec3, bareMetres = BARE): number {
  const { heights, bare } = lyingOn(cover, head, by);
  const usual = Math.max(0, heights[Math.floor(heights.length / 2)] ?? 0);
  let sum = bare * bareMetres ** 2;
  for (const h of heights)
    sum += Math.min(Math.abs(h - usual), LOOSE) ** 2 + (h < 0 ? OUT * Math.min(-h, LOOSE) ** 2 : 0);
  return Math.sqrt(sum / Math.max(1, head.places.length));
}

/** Heights of the cover over the head's skin, ascending, metres, and how many places have none over them. */
function lyingOn({ bvh, P }: Cover, { places }: Head, by: Vec3): { heights: number[]; bare: number } {
  const heights: number[] = [];
  let bare = 0;
  for (const { at, out } of places) {
    let first = Infinity;
    castRay(
      bvh,
      P,
      at[0] - by[0] - UNDER * out[0],
      at[1] - by[1] - UNDER * out[1],
      at[2] - by[2] - UNDER * out[2],
      out[0],
      out[1],
      out[2],
      (_, d) => (first = Math.min(first, d)),
      UNDER + REACH,
    );
    const h = first - UNDER;
    if (Number.isFinite(h)) heights.push(h);
    else bare++;
  }
  heights.sort((x, y) => x - y);
  return { heights, bare };
}

/**
 * How a part lies on the head: what share of its upper half is covered, how high over the skin as a rule, how unevenly
 * (root mean square), and how much of the skin stands out of it.
 */
export interface SeatReading {
  readonly covered: number;
  readonly heightMm: number;
  readonly unevenMm: number;
  readonly out: number;
}

/** Null without a head. The part sits right where it covers most, lies most evenly, and no skin stands out. */
export function seatReading(character: Character, name: string): SeatReading | null {
  const head = headOf(character);
  if (!head) return null;
  const { part } = partNamed(character, name);
  const { heights } = lyingOn(coverOf(part, part.positions), head, [0, 0, 0]);
  const usual = heights[Math.floor(heights.length / 2)] ?? 0;
  const count = Math.max(1, head.places.length);
  const uneven = Math.sqrt(heights.reduce((sum, h) => sum + (h - usual) ** 2, 0) / Math.max(1, heights.length));
  return {
    covered: heights.length / count,
    heightMm: 1000 * usual,
    unevenMm: 1000 * uneven,
    out: heights.filter((h) => h < -0.0005).length / count,
  };
}

/**
 * Where hair or a hat belongs on the head: first over it, then step by step to where it lies most evenly and no skin
 * stands out. A part in another unit is scaled by the power of ten that fits. @throws UserError without a body or a
 * head to put it on.
 */
export function headFit(character: Character, name: string): Seat {
  const { part } = partNamed(character, name);
  const head = headOf(character);
  if (!head)
    throw new UserError(
      "There is no head to put it on.",
      name,
      "Take in the body first, and set its kind under Parts.",
    );
  const { middle, size } = boxOf(part.positions);
  const across = Math.max(size[0], size[2]);
  const scale = across > 0 ? 10 ** Math.round(Math.log10(head.width / across)) : 1;
  const cover = coverOf(
    part,
    part.positions.map((x, i) => middle[i % 3]! + scale * (x - middle[i % 3]!)),
  );
  // its top over the crown, its middle over the head's; and as it is, should it lie on the head already
  const starts: Vec3[] = [
    [head.crown[0] - middle[0], head.crown[1] + 0.01 - middle[1] - (scale * size[1]) / 2, head.crown[2] - middle[2]],
    [0, 0, 0],
  ];
  const [best] = starts
    .map((start) => search(cover, head, search(cover, head, start, LOOSE).by))
    .sort((a, b) => a.cost - b.cost) as [ReturnType<typeof search>];
  return { moveMm: best.by.map((x) => Math.round(10_000 * x) / 10) as unknown as Vec3, turn: [0, 0, 0], scale };
}

/** Pattern search over the three axes, steps halved when none of them helps. */
function search(cover: Cover, head: Head, start: Vec3, bare = BARE): { by: Vec3; cost: number } {
  let by = start;
  let cost = offSeat(cover, head, by, bare);
  for (const step of STEPS) {
    for (let round = 0; round < 12; round++) {
      let better = false;
      for (let axis = 0; axis < 3; axis++)
        for (const sign of [1, -1]) {
          const next = by.map((x, c) => (c === axis ? x + sign * step : x)) as unknown as Vec3;
          const now = offSeat(cover, head, next, bare);
          if (now < cost - 1e-9) [by, cost, better] = [next, now, true];
        }
      if (!better) break;
    }
  }
  return { by, cost };
}

/** The crown and the width of the head: skin near the head's joint and above, else the uppermost eighth of the body. */
function headOf(character: Character): Head | null {
  const body = character.parts
    .filter((p) => p.kind === "body")
    .sort((a, b) => b.positions.length - a.positions.length)[0];
  if (!body) return null;
  const { skeleton, jointMap } = character;
  const joint = skeleton ? humanoidMap(skeleton, jointMap).jointOfBone.get("head") : undefined;
  const stature = statureOf(character);
  const top = Math.max(...Array.from(body.corners, (v) => body.positions[3 * v + 1]!));
  const from =
    joint === undefined
      ? top - stature / 8
      : translationOf(worldMatrices(skeleton!, {}), 16 * joint)[1] + 0.04 * stature;
  const at = joint === undefined ? null : translationOf(worldMatrices(skeleton!, {}), 16 * joint);
  const near: number[] = [];
  for (const v of new Set(body.corners)) {
    const p: Vec3 = [body.positions[3 * v]!, body.positions[3 * v + 1]!, body.positions[3 * v + 2]!];
    if (p[1] >= from && (!at || length(sub(p, at)) < 0.2 * stature)) near.push(v);
  }
  if (near.length < 10) return null;
  const { middle, size } = boxOf(
    Float32Array.from(near.flatMap((v) => Array.from(body.positions.subarray(3 * v, 3 * v + 3)))),
  );
  const normals = new Float32Array(body.positions.length);
  computeNormals(
    body.positions,
    { quads: new Uint32Array(0), triangles: triangulate(body).triangles },
    placesOf(body.positions),
    normals,
  );
  const every = Math.max(1, Math.floor(near.length / SAMPLES));
  const places = near
    .filter((v, k) => k % every === 0 && Math.hypot(normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!) > 0.5)
    .map((v) => ({
      at: [body.positions[3 * v]!, body.positions[3 * v + 1]!, body.positions[3 * v + 2]!] as Vec3,
      out: [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!] as Vec3,
    }))
    // the upper half: what hair covers on everybody
    .filter(({ at: p }) => p[1] > middle[1])
    // folds inside the head, as of lids and mouth, look inward
    .filter(
      ({ at: p, out }) =>
        out[0] * (p[0] - middle[0]) + out[1] * (p[1] - middle[1] + size[1] / 4) + out[2] * (p[2] - middle[2]) > 0,
    );
  return { crown: [middle[0], middle[1] + size[1] / 2, middle[2]], width: size[0], places };
}
