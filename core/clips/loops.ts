import { angleBetweenQuats, slerp } from "../math/quat";
import type { Quat } from "../math/vec3";
import { copyMotion, placeAt, setPlaceAt, setTurnAt, turnAt, type Motion } from "./motion";
import { smoothStep } from "../math/smoothStep";

/** Two moments between which a movement can be played over and over, and how far they are apart. */
export interface Loop {
  /** Seconds. */
  readonly from: number;
  readonly to: number;
  /** Joint that differs most, degrees. */
  readonly degrees: number;
  /** Pelvis over the floor, and to the side where it does not travel, mm. */
  readonly mm: number;
}

/** The end is led over to the start within this, seconds. */
const CROSSFADE = 0.2;
/** Ends that come nearer than this were meant to meet, degrees at the joint that differs most (our own choice). */
const MEANT = 14;
/** The last part of a movement in which its end is looked for. */
const TAIL = 0.15;
/** A figure whose pelvis comes back as near as this does not travel, metres. */
const STAYS = 0.08;
/** A pose and the next closer than this are the same, degrees. */
const SAME = 0.01;

/** Largest turn between two frames, degrees. */
export function apart(motion: Motion, a: number, b: number): number {
  let most = 0;
  motion.skeleton.joints.forEach((_, j) => {
    if (motion.keyed[j]) most = Math.max(most, angleBetweenQuats(turnAt(motion, a, j), turnAt(motion, b, j)));
  });
  return most;
}

/** Distance of two frames in pose and in how it goes on, degrees. */
function distance(motion: Motion, a: number, b: number): number {
  const { skeleton, frames, keyed } = motion;
  let sum = 0;
  let n = 0;
  const next = (f: number): number => (f + 1 < frames ? f + 1 : f - 1);
  skeleton.joints.forEach((_, j) => {
    if (!keyed[j]) return;
    const [p, q] = [turnAt(motion, a, j), turnAt(motion, b, j)];
    sum += angleBetweenQuats(p, q) ** 2;
    const speed = (f: number, here: Quat): number => angleBetweenQuats(here, turnAt(motion, next(f), j));
    sum += 2 * (speed(a, p) - speed(b, q)) ** 2;
    n++;
  });
  return Math.sqrt(sum / Math.max(1, n));
}

/** Whether the last frame stands twice. */
export const endsTwice = (motion: Motion): boolean =>
  motion.frames > 2 && apart(motion, motion.frames - 1, motion.frames - 2) < SAME && apart(motion, 0, 1) > SAME;

/** A movement without its last frame. */
export const withoutLast = (motion: Motion): Motion => cut(motion, 0, motion.frames - 2);

/** Frames from one to another, both taken. */
export function cut(motion: Motion, from: number, to: number): Motion {
  const count = motion.skeleton.joints.length;
  return {
    ...motion,
    frames: to - from + 1,
    turns: motion.turns.slice(4 * count * from, 4 * count * (to + 1)),
    places: motion.places.slice(3 * from, 3 * (to + 1)),
  };
}

/**
 * Where a movement that was meant to be played over and over comes back to its start: the frame of its last part that
 * is
 * nearest to the first in pose and speed. Null where none comes near.
 */
export function findLoop(motion: Motion): Loop | null {
  const { frames, fps } = motion;
  if (frames < Math.max(8, 0.4 * fps)) return null;
  const first = Math.max(Math.ceil(frames * (1 - TAIL)), Math.ceil(0.3 * fps));
  let [best, least] = [-1, Infinity];
  for (let f = first; f < frames; f++) {
    // of ends that are equally near the last is taken
    const d = distance(motion, 0, f);
    if (d <= least + 1e-3) [best, least] = [f, Math.min(d, least)];
  }
  if (best < 0) return null;
  const degrees = apart(motion, 0, best);
  return degrees < MEANT ? { from: 0, to: best / fps, degrees, mm: seam(motion, 0, best) } : null;
}

/** How far the pelvis stands apart in height between two frames, mm. */
const seam = (motion: Motion, a: number, b: number): number =>
  1000 * Math.abs(placeAt(motion, a)[1] - placeAt(motion, b)[1]);

/**
 * The stretch of a loop, its last fifth of a second led over to where it begins, so that the last frame stands as the
 * first; what travels goes on travelling. Returned with how far the ends are apart afterwards.
 */
export function closeLoop(motion: Motion, from: number, to: number): { motion: Motion; loop: Loop } {
  const { fps } = motion;
  const a = Math.max(0, Math.min(motion.frames - 2, Math.round(from * fps)));
  const b = Math.max(a + 1, Math.min(motion.frames - 1, Math.round(to * fps)));
  const out = copyMotion(cut(motion, a, b));
  const last = out.frames - 1;
  const fade = Math.max(1, Math.min(last, Math.round(CROSSFADE * fps)));
  const end = placeAt(out, last);
  const start = placeAt(out, 0);
  const stays = Math.hypot(end[0] - start[0], end[2] - start[2]) < STAYS;
  for (let f = last - fade + 1; f <= last; f++) {
    const share = smoothStep((f - (last - fade)) / fade);
    // the same moment one round earlier, where the file holds it; else the start itself
    const before = a >= fade ? a + (f - last) : null;
    out.skeleton.joints.forEach((_, j) => {
      const aim = before === null ? turnAt(out, 0, j) : turnAt(motion, before, j);
      setTurnAt(out, f, j, slerp(turnAt(out, f, j), aim, share));
    });
    const [x, y, z] = placeAt(out, f);
    const along = stays ? share : 0;
    setPlaceAt(out, f, [
      x + along * (start[0] - end[0]),
      y + share * (start[1] - end[1]),
      z + along * (start[2] - end[2]),
    ]);
  }
  return { motion: out, loop: { from: a / fps, to: b / fps, degrees: apart(out, 0, last), mm: seam(out, 0, last) } };
}
