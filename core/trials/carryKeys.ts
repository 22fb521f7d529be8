import { evaluate } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import { decomposeTRS } from "../math/mat4";
import { angleBetweenQuats, conjugate, fromEulerXYZ, multiplyQuat, toEulerXYZ } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import type { Character } from "../model/character";
import { shapeMeaning } from "../names/shapeMeaning";
import { humanoidMap } from "../skeleton/humanoidMap";
import type { Curve, Keys } from "./trial";

type Frame = NonNullable<Keys["frames"]>[string];
/** Joint frames closer than this are one, degrees. */
const SAME_DEG = 1e-4;

/** The frame of every mapped joint, by the joint's name: its bone, how it is turned at rest, and how high it stands. */
const frames = new WeakMap<Character, ReadonlyMap<string, Frame>>();
function framesOf(character: Character): ReadonlyMap<string, Frame> {
  const known = frames.get(character);
  if (known) return known;
  const out = new Map<string, Frame>();
  const { skeleton, jointMap } = character;
  const { world } = evaluate(character, REST_MOMENT);
  if (skeleton && world)
    humanoidMap(skeleton, jointMap).boneOfJoint.forEach((bone, j) => {
      if (!bone) return;
      const { t, q } = decomposeTRS(world, 16 * j);
      out.set(skeleton.joints[j]!.name, { bone, rest: [...q], height: t[1] });
    });
  frames.set(character, out);
  return out;
}

/** Keys that say which bone each of their joints is on this character, so that they play on another as well. */
export function withFrames(character: Character, keys: Keys): Keys {
  const all = framesOf(character);
  const hips = keys.hips ? [...all].filter(([, f]) => f.bone === "hips").map(([name]) => name) : [];
  const told = [...Object.keys(keys.joints), ...hips].flatMap((name) => {
    const frame = all.get(name);
    return frame ? [[name, frame] as const] : [];
  });
  return { ...keys, frames: { ...keys.frames, ...Object.fromEntries(told) } };
}

/** Where the keys of one joint go. */
interface Way {
  readonly to: string;
  /** Turns angles in the frame they were keyed in into this character's; null where both are one. */
  readonly change: Quat | null;
}
/** Where keys go on a character. */
export interface Carriage {
  readonly joint: (name: string) => Way;
  readonly shape: (name: string) => string;
  /** How much farther the hips go here. */
  readonly hips: number;
}

/** What is made of keys on a character, made once for as long as both are there. */
function madeOnce<T>(make: (character: Character, keys: Keys) => T): (character: Character, keys: Keys) => T {
  const all = new WeakMap<Character, WeakMap<Keys, { readonly made: T }>>();
  return (character, keys) => {
    const known = all.get(character) ?? new WeakMap<Keys, { readonly made: T }>();
    all.set(character, known);
    const found = known.get(keys) ?? { made: make(character, keys) };
    known.set(keys, found);
    return found.made;
  };
}

/**
 * Where keys go on a character: those of a joint that was keyed elsewhere to the joint of the same bone, turned alike
 * in space against its own rest; the hips' way grows with the height of the hips; shapes go by name, else by what
 * their name means. What has no place here keeps its own name, and plays nothing.
 */
export const carriageOf = madeOnce(makeCarriage);

function makeCarriage(character: Character, keys: Keys): Carriage {
  const here = framesOf(character);
  const byBone = new Map([...here].map(([name, frame]) => [frame.bone, { name, frame }]));
  const ways = new Map<string, Way>();
  for (const [name, from] of Object.entries(keys.frames ?? {})) {
    const to = byBone.get(from.bone);
    if (!to) continue;
    const alike = angleBetweenQuats(from.rest, to.frame.rest) < SAME_DEG;
    ways.set(name, { to: to.name, change: alike ? null : multiplyQuat(conjugate(to.frame.rest), from.rest) });
  }
  const hipsThere = Object.values(keys.frames ?? {}).find((f) => f.bone === "hips");
  const hipsHere = byBone.get("hips")?.frame;
  const grown = hipsThere && hipsHere && hipsThere.height > 0 && hipsHere.height > 0;
  const shapes = shapesOn(character, keys.shapes);
  return {
    joint: (name) => ways.get(name) ?? { to: name, change: null },
    shape: (name) => shapes.get(name) ?? name,
    hips: grown ? hipsHere.height / hipsThere.height : 1,
  };
}

/**
 * Keys as this character's own, to be changed on it. Between keys the way may be a little another, as angles are drawn
 * from key to key each for itself; what is played is turned at each moment (`keysAt`) and is not.
 */
export const carriedTo = madeOnce(carry);

function carry(character: Character, keys: Keys): Keys {
  const way = carriageOf(character, keys);
  const named = (name: string): boolean => way.joint(name).to === name && !way.joint(name).change;
  const shapes = Object.keys(keys.shapes);
  if (way.hips === 1 && Object.keys(keys.joints).every(named) && shapes.every((n) => way.shape(n) === n)) return keys;
  return withFrames(character, {
    joints: Object.fromEntries(
      Object.entries(keys.joints).map(([name, curve]) => {
        const { to, change } = way.joint(name);
        return [to, change ? turnedAlike(curve, change) : curve];
      }),
    ),
    shapes: Object.fromEntries(Object.entries(keys.shapes).map(([name, curve]) => [way.shape(name), curve])),
    hips: keys.hips && { ...keys.hips, values: keys.hips.values.map((v) => v * way.hips) },
  });
}

/** Angles of one frame as those of another, degrees. */
export const turnAngles = (angles: Vec3, change: Quat): Vec3 =>
  toEulerXYZ(multiplyQuat(multiplyQuat(change, fromEulerXYZ(...angles)), conjugate(change)));

function turnedAlike(curve: Curve, change: Quat): Curve {
  const values: number[] = [];
  curve.times.forEach((_, k) => {
    const angles = turnAngles(curve.values.slice(3 * k, 3 * k + 3) as unknown as Vec3, change);
    // as near to the key before as whole turns let it be
    angles.forEach((a, i) => values.push(k ? a + 360 * Math.round((values[3 * (k - 1) + i]! - a) / 360) : a));
  });
  return { ...curve, values };
}

/** Shapes that are keyed under another name here. */
function shapesOn({ shapes }: Character, keyed: Keys["shapes"]): Map<string, string> {
  const names = new Set(shapes.map((s) => s.name));
  const meant = new Map(shapes.map((s) => [JSON.stringify(shapeMeaning(s.name)), s.name]));
  const out = new Map<string, string>();
  for (const name of Object.keys(keyed)) {
    const meaning = names.has(name) ? null : shapeMeaning(name);
    const there = meaning && meant.get(JSON.stringify(meaning));
    if (there && !keyed[there]) out.set(name, there);
  }
  return out;
}
