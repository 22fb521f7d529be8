import { rotate } from "../math/quat";
import { length, sub, type Vec3 } from "../math/vec3";
import type { Character } from "../model/character";
import type { SolePoint, Soles } from "../measure/soles";
import { solesOf } from "../measure/soles";
import { humanoidMap } from "../skeleton/humanoidMap";
import { restStanding, standing, type Motion, type Standing } from "./motion";

export const FEET = ["left", "right"] as const;
export type Foot = (typeof FEET)[number];

/** When feet stand, and on what: frames by foot, and how the ground moves under a figure that walks on the spot. */
export interface Contacts {
  /** 1 where the foot stands, by frame. */
  readonly stands: Readonly<Record<Foot, Uint8Array>>;
  /** Height of the sole's lowest place over the floor, metres, by frame. */
  readonly height: Readonly<Record<Foot, Float64Array>>;
  /** Metres a second along x and z; zero unless the figure walks on the spot. */
  readonly ground: readonly [number, number];
}

/** A foot this low stands, shares of the leg's length; and it leaves again above the second. */
const LOW = [0.028, 0.045] as const;
/** A standing foot moves at most so fast, leg lengths a second (about 0.45 m/s). */
const SLOW = 0.55;
/** A stand of less time is none, seconds. */
const SHORTEST = 0.08;
/** A foot this low is on the floor, shares of the leg's length, and stands even where it slips over it faster. */
const ON_FLOOR = 0.008;
/** Faster than this a foot swings by, however low, leg lengths a second. */
const SWING = 2.2;
/** Places within this of the lowest touch the ground, metres. */
const TOUCHING = 0.008;
/** A figure walks on the spot when the ground would move faster than this, leg lengths a second. */
const ON_THE_SPOT = 0.3;

/** Length of a leg at rest, metres; 0.8 where it is not mapped. */
export function legLength(character: Character): number {
  const { skeleton } = character;
  if (!skeleton) return 0.8;
  const map = humanoidMap(skeleton, character.jointMap);
  const rest = restStanding(skeleton);
  const [hip, knee, foot] = ["UpperLeg", "LowerLeg", "Foot"].map((b) => map.jointOfBone.get(`left${b}`));
  if (hip === undefined || knee === undefined || foot === undefined) return 0.8;
  return length(sub(rest.places[hip]!, rest.places[knee]!)) + length(sub(rest.places[knee]!, rest.places[foot]!));
}

/** Where the places of both soles are, frame by frame: 3 x points x frames. */
interface SoleTracks {
  readonly points: Readonly<Record<Foot, Float64Array>>;
  readonly count: Readonly<Record<Foot, number>>;
}

const placeOf = (s: Standing, { joint, at }: SolePoint): Vec3 => {
  const [x, y, z] = rotate(s.turns[joint]!, at);
  const p = s.places[joint]!;
  return [p[0] + x, p[1] + y, p[2] + z];
};

/** Follows the soles through a movement. */
export function trackSoles(motion: Motion, soles: Soles): SoleTracks {
  const points = {
    left: new Float64Array(3 * soles.left.length * motion.frames),
    right: new Float64Array(3 * soles.right.length * motion.frames),
  };
  const room: Standing = { turns: [], places: [] };
  for (let f = 0; f < motion.frames; f++) {
    standing(motion, f, room);
    for (const foot of FEET)
      soles[foot].forEach((p, k) => points[foot].set(placeOf(room, p), 3 * (f * soles[foot].length + k)));
  }
  return { points, count: { left: soles.left.length, right: soles.right.length } };
}

/** Lowest height of a sole by frame. */
function heights({ points, count }: SoleTracks, foot: Foot, frames: number): Float64Array {
  return Float64Array.from({ length: frames }, (_, f) => {
    let least = Infinity;
    for (let k = 0; k < count[foot]; k++) least = Math.min(least, points[foot][3 * (f * count[foot] + k) + 1]!);
    return least;
  });
}

/**
 * How far the places of a sole that touch the ground move from one frame to the next along x and z, metres, less what
 * the ground moves.
 */
export function slipOf(
  tracks: SoleTracks,
  foot: Foot,
  frame: number,
  step: number,
  ground: readonly [number, number],
): [number, number] {
  const { points, count } = tracks;
  const [p, n] = [points[foot], count[foot]];
  let least = Infinity;
  for (let k = 0; k < n; k++) least = Math.min(least, p[3 * (frame * n + k) + 1]!);
  let [x, z, touching] = [0, 0, 0];
  for (let k = 0; k < n; k++) {
    const i = 3 * (frame * n + k);
    if (p[i + 1]! > least + TOUCHING) continue;
    const j = i + 3 * n;
    x += p[j]! - p[i]!;
    z += p[j + 2]! - p[i + 2]!;
    touching++;
  }
  return [x / touching - step * ground[0], z / touching - step * ground[1]];
}

/** Mean without the lowest and the highest tenth. */
function middle(values: number[]): number {
  const cut = Math.floor(values.length / 10);
  const kept = values.sort((a, b) => a - b).slice(cut, values.length - cut);
  return kept.length ? kept.reduce((a, b) => a + b) / kept.length : 0;
}

/**
 * The floor that a movement stands on: of the lowest place of each frame, the height under which a tenth of them lie.
 */
export function floorOf(tracks: SoleTracks, frames: number): number {
  const low = Array.from({ length: frames }, () => Infinity);
  for (const foot of FEET) heights(tracks, foot, frames).forEach((h, f) => (low[f] = Math.min(low[f]!, h)));
  return low.sort((a, b) => a - b)[Math.floor(0.1 * frames)]!;
}

/** When the feet of a movement stand, on the floor at height 0. */
export function contactsOf(motion: Motion, tracks: SoleTracks, leg: number): Contacts {
  const { frames, fps } = motion;
  const height = { left: heights(tracks, "left", frames), right: heights(tracks, "right", frames) };
  const ground = groundOf(motion, tracks, height, leg);
  const stands = { left: new Uint8Array(frames), right: new Uint8Array(frames) };
  for (const foot of FEET) {
    let on = false;
    for (let f = 0; f < frames; f++) {
      const g = Math.min(f, frames - 2);
      const [x, z] = frames > 1 ? slipOf(tracks, foot, g, 1 / fps, ground) : [0, 0];
      const slow: boolean = Math.hypot(x, z) * fps < (on ? 1.5 : 1) * SLOW * leg;
      on = slow && height[foot][f]! < LOW[on ? 1 : 0] * leg;
      stands[foot][f] = on ? 1 : 0;
    }
    dropShort(stands[foot], Math.max(2, Math.round(SHORTEST * fps)));
    joinOnFloor(stands[foot], (f) => {
      if (height[foot][f]! > ON_FLOOR * leg) return false;
      const g = Math.min(f, frames - 2);
      return Math.hypot(...slipOf(tracks, foot, g, 1 / fps, ground)) * fps < SWING * leg;
    });
  }
  return { stands, height, ground };
}

/** A stand goes on for as long as the foot is on the floor: whoever slips over it half-way still stands. */
function joinOnFloor(set: Uint8Array, onFloor: (frame: number) => boolean): void {
  for (const [a, b] of stretches(set)) {
    for (let f = b + 1; f < set.length && !set[f] && onFloor(f); f++) set[f] = 1;
    for (let f = a - 1; f >= 0 && !set[f] && onFloor(f); f--) set[f] = 1;
  }
}

/** The ground's own movement under a figure that walks on the spot. */
function groundOf(
  { frames, fps, places }: Motion,
  tracks: SoleTracks,
  height: Contacts["height"],
  leg: number,
): [number, number] {
  if (frames < 3) return [0, 0];
  const [xs, zs]: [number[], number[]] = [[], []];
  for (let f = 0; f + 1 < frames; f++) {
    const foot = height.left[f]! < height.right[f]! ? "left" : "right";
    // neither one that lands nor one that leaves
    if (Math.max(height[foot][f]!, height[foot][f + 1]!) > ON_FLOOR * leg) continue;
    const [x, z] = slipOf(tracks, foot, f, 0, [0, 0]);
    xs.push(x * fps);
    zs.push(z * fps);
  }
  const moves: [number, number] = [middle(xs), middle(zs)];
  const speed = Math.hypot(...moves);
  const last = 3 * (frames - 1);
  const travel = Math.hypot(places[last]! - places[0]!, places[last + 2]! - places[2]!);
  const would = (speed * frames) / fps;
  return speed > ON_THE_SPOT * leg && travel < 0.2 * would ? moves : [0, 0];
}

/** Stretches of frames that are set, as [first, last]. */
export function stretches(set: Uint8Array): [number, number][] {
  const out: [number, number][] = [];
  set.forEach((on, f) => {
    const last = out[out.length - 1];
    if (!on) return;
    if (last && last[1] === f - 1) last[1] = f;
    else out.push([f, f]);
  });
  return out;
}
function dropShort(set: Uint8Array, least: number): void {
  for (const [a, b] of stretches(set)) if (b - a + 1 < least) set.fill(0, a, b + 1);
}

/** A foot is being set down, or leaves, for so long, seconds. */
const SET_DOWN = 0.05;

/**
 * Whether what a foot moves from a frame to the next is a slide: it stands in both, and is neither being set down nor
 * leaving.
 */
export function slidesFrom(stands: Uint8Array, frame: number, fps: number): boolean {
  const margin = Math.max(1, Math.round(SET_DOWN * fps));
  for (let f = Math.max(0, frame - margin); f <= Math.min(stands.length - 1, frame + 1 + margin); f++)
    if (!stands[f]) return false;
  return true;
}

export interface FeetReading {
  /** Worst speed of a standing foot, metres a second, and when. */
  readonly slide: number;
  readonly slideAt: number;
  /** How far a sole goes under the floor, metres, and when, seconds. */
  readonly under: number;
  readonly underAt: number;
  /** Share of the frames in which a foot stands. */
  readonly standing: number;
  /** Whether the figure walks on the spot: slide is then against a ground that moves under it. */
  readonly onTheSpot: boolean;
}

/**
 * How feet stand in a movement: slide of those that stand, soles under the floor. @param contacts taken as they are.
 */
export function readFeet(
  character: Character,
  motion: Motion,
  contacts?: Contacts,
  soles: Soles | null = solesOf(character),
): FeetReading | null {
  if (!soles) return null;
  const tracks = trackSoles(motion, soles);
  const { stands, ground } = contacts ?? contactsOf(motion, tracks, legLength(character));
  const { frames, fps } = motion;
  let [slide, slideAt, under, underAt, count] = [0, 0, 0, 0, 0];
  const height = { left: heights(tracks, "left", frames), right: heights(tracks, "right", frames) };
  for (let f = 0; f < frames; f++) {
    if (stands.left[f] || stands.right[f]) count++;
    for (const foot of FEET) {
      if (-height[foot][f]! > under) [under, underAt] = [-height[foot][f]!, f / fps];
      if (f + 1 >= frames || !slidesFrom(stands[foot], f, fps)) continue;
      const speed = fps * Math.hypot(...slipOf(tracks, foot, f, 1 / fps, ground));
      if (speed > slide) [slide, slideAt] = [speed, f / fps];
    }
  }
  return { slide, slideAt, under, underAt, standing: count / frames, onTheSpot: ground[0] !== 0 || ground[1] !== 0 };
}
