import { keysAt } from "./momentAt";
import type { Character } from "../model/character";
import type { Curve, Keys } from "./trial";

/** Keys closer than this are one, seconds. */
const SAME_TIME = 1e-3;

export const NO_KEYS: Keys = { joints: {}, shapes: {}, hips: null };

/** A curve with a key at a time; one that stands there is replaced. @param values one key's numbers. */
export function withKey(curve: Curve | undefined | null, at: number, values: readonly number[]): Curve {
  const width = values.length;
  const { times, values: all, ease } = curve ?? { times: [], values: [], ease: "smooth" as const };
  const known = times.findIndex((t) => Math.abs(t - at) < SAME_TIME);
  if (known >= 0) {
    const next = [...all];
    values.forEach((v, i) => (next[known * width + i] = v));
    return { ease, times: [...times], values: next };
  }
  const place = times.filter((t) => t < at).length;
  const next = [...all];
  next.splice(place * width, 0, ...values);
  return { ease, times: [...times.slice(0, place), at, ...times.slice(place)], values: next };
}

/** A curve without the key at a time; null when it was the only one. */
export function withoutKey(curve: Curve, at: number): Curve | null {
  const known = curve.times.findIndex((t) => Math.abs(t - at) < SAME_TIME);
  if (known < 0) return curve;
  const width = curve.values.length / curve.times.length;
  const times = curve.times.filter((_, k) => k !== known);
  if (times.length === 0) return null;
  return { ...curve, times, values: curve.values.filter((_, i) => Math.floor(i / width) !== known) };
}

type Change = (curve: Curve) => Curve | null;

/** Every curve changed; those that become null go. */
export function changeCurves({ joints, shapes, hips, frames }: Keys, change: Change): Keys {
  const all = (record: Keys["joints"]): Keys["joints"] =>
    Object.fromEntries(
      Object.entries(record).flatMap(([name, curve]) => {
        const next = change(curve);
        return next ? [[name, next] as const] : [];
      }),
    );
  return { joints: all(joints), shapes: all(shapes), hips: hips && change(hips), ...(frames && { frames }) };
}

/** All times at which something is keyed, ascending. */
export function keyTimes({ joints, shapes, hips }: Keys): number[] {
  const all = [...Object.values(joints), ...Object.values(shapes), ...(hips ? [hips] : [])].flatMap((c) => c.times);
  return [...new Set(all)].sort((a, b) => a - b);
}

/** Everything that is keyed somewhere, keyed at a time as it stands there. */
export function keyAll(character: Character, keys: Keys, at: number): Keys {
  const { pose, weights, travel } = keysAt(character, keys, at);
  const joints = Object.fromEntries(Object.entries(keys.joints).map(([n, c]) => [n, withKey(c, at, pose[n]!)]));
  const shapes = Object.fromEntries(Object.entries(keys.shapes).map(([n, c]) => [n, withKey(c, at, [weights[n]!])]));
  return { ...keys, joints, shapes, hips: keys.hips && travel ? withKey(keys.hips, at, travel.by) : keys.hips };
}

/** What stands keyed at one time, keyed at another too. */
export const copyKeys = (keys: Keys, from: number, to: number): Keys =>
  changeCurves(keys, (curve) => {
    const k = curve.times.findIndex((t) => Math.abs(t - from) < SAME_TIME);
    if (k < 0) return curve;
    const width = curve.values.length / curve.times.length;
    return withKey(curve, to, curve.values.slice(k * width, (k + 1) * width));
  });

/** Keys of one time moved to another; those that stand there are replaced. */
export const moveKeys = (keys: Keys, from: number, to: number): Keys =>
  Math.abs(from - to) < SAME_TIME
    ? keys
    : changeCurves(copyKeys(keys, from, to), (curve) => withoutKey(curve, from) ?? curve);

/** The keys of a time taken out. */
export const dropKeys = (keys: Keys, at: number): Keys => changeCurves(keys, (curve) => withoutKey(curve, at));

/** All keys drawn out or together in time from a moment. @param by 2: twice as slow. */
export const scaleKeys = (keys: Keys, from: number, by: number): Keys =>
  changeCurves(keys, (c) => ({ ...c, times: c.times.map((t) => (t <= from ? t : from + (t - from) * by)) }));
