import { rotate } from "../math/quat";
import { add, length, scale, sub, type Vec3 } from "../math/vec3";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import { bendLimb } from "./bendLimb";
import { stretches } from "./contacts";
import { standing, type Motion, type Standing } from "./motion";
import { smoothStep } from "../math/smoothStep";

/** A hand slower than this rests, metres a second; ours: a hand laid on something drifts at less. */
const STILL = 0.12;
/** It rests for so long at least, and is led into its place and out of it over so long, seconds. */
const LEAST = 0.25;
const LEAD = 0.2;

type Side = "left" | "right";
const SIDES: readonly Side[] = ["left", "right"];

/** How the hands of a movement rest. */
export interface HandsReading {
  /** Share of the frames in which a hand rests. */
  readonly resting: number;
  /** Farthest that a resting hand goes from the middle of its place, metres. */
  readonly drift: number;
}

const limbOf = (map: HumanoidMap, side: Side): [number, number, number] | null => {
  const joints = ["UpperArm", "LowerArm", "Hand"].map((b) => map.jointOfBone.get(side + b) ?? -1);
  return joints.some((j) => j < 0) ? null : (joints as [number, number, number]);
};

function placesOf(motion: Motion, joint: number): Vec3[] {
  const room: Standing = { turns: [], places: [] };
  return Array.from({ length: motion.frames }, (_, f) => standing(motion, f, room).places[joint]!);
}

/** Frames in which a hand rests, first and last of each stretch. */
function restsOf(places: readonly Vec3[], fps: number): [number, number][] {
  const still = Uint8Array.from(places, (_, f) => {
    const [a, b] = [places[Math.max(0, f - 1)]!, places[Math.min(places.length - 1, f + 1)]!];
    const span = Math.min(places.length - 1, f + 1) - Math.max(0, f - 1);
    return span > 0 && (length(sub(b, a)) * fps) / span < STILL ? 1 : 0;
  });
  return stretches(still).filter(([a, b]) => (b - a) / fps >= LEAST);
}

const middleOf = (places: readonly Vec3[], [a, b]: readonly [number, number]): Vec3 =>
  scale(places.slice(a, b + 1).reduce(add), 1 / (b - a + 1));

/** How resting hands drift. */
export function readHands(motion: Motion, map: HumanoidMap): HandsReading | null {
  let [resting, drift, known] = [0, 0, 0];
  for (const side of SIDES) {
    const limb = limbOf(map, side);
    if (!limb) continue;
    known++;
    const places = placesOf(motion, limb[2]);
    for (const rest of restsOf(places, motion.fps)) {
      const middle = middleOf(places, rest);
      resting += rest[1] - rest[0] + 1;
      for (let f = rest[0]; f <= rest[1]; f++) drift = Math.max(drift, length(sub(places[f]!, middle)));
    }
  }
  return known ? { resting: resting / (known * motion.frames), drift } : null;
}

/**
 * Keeps hands where they rest, by the two joints of each arm; before and after a rest the hand is led into its place
 * and out of it. @param closed the movement is played over and over, so that what leads out at its end leads in at its
 * start.
 */
export function holdHands(motion: Motion, map: HumanoidMap, closed: boolean): void {
  const { frames, fps } = motion;
  for (const side of SIDES) {
    const limb = limbOf(map, side);
    if (!limb) continue;
    const places = placesOf(motion, limb[2]);
    const rests = restsOf(places, fps);
    if (!rests.length) continue;
    const moves = movesInto(places, rests, fps, closed, frames);
    for (const j of limb) motion.keyed[j] = 1;
    const room: Standing = { turns: [], places: [] };
    for (let f = 0; f < frames; f++) {
      if (!moves[f]) continue;
      standing(motion, f, room);
      const back = rotate(room.turns[limb[2]]!, [0, 0, -1]);
      bendLimb(motion, f, room, limb, add(room.places[limb[2]]!, moves[f]!), back);
    }
  }
}

/** How far a hand is moved in each frame; null where it is not. */
function movesInto(
  places: readonly Vec3[],
  rests: readonly (readonly [number, number])[],
  fps: number,
  closed: boolean,
  frames: number,
): (Vec3 | null)[] {
  const sums = Array.from({ length: frames }, (): { move: Vec3; share: number } => ({ move: [0, 0, 0], share: 0 }));
  const lead = Math.max(1, Math.round(LEAD * fps));
  for (const rest of rests) {
    const middle = middleOf(places, rest);
    const ends = [sub(middle, places[rest[0]]!), sub(middle, places[rest[1]]!)] as const;
    for (let f = rest[0] - lead + 1; f < rest[1] + lead; f++) {
      const out = f < rest[0] ? rest[0] - f : f > rest[1] ? f - rest[1] : 0;
      const at = closed ? ((f % frames) + frames) % frames : f;
      if (at < 0 || at >= frames) continue;
      const share = smoothStep(1 - out / lead);
      const move = out === 0 ? sub(middle, places[at]!) : scale(f < rest[0] ? ends[0] : ends[1], share);
      // where two rests lie close, each leads by its share
      sums[at]!.move = out === 0 ? move : sums[at]!.share === 1 ? sums[at]!.move : add(sums[at]!.move, move);
      sums[at]!.share = out === 0 ? 1 : sums[at]!.share;
    }
  }
  return sums.map(({ move }) => (length(move) > 1e-7 ? move : null));
}
