import { rotate } from "../math/quat";
import { add, length, normalize, scale, sub, type Vec3 } from "../math/vec3";
import { solesOf, type Soles } from "../measure/soles";
import type { Character } from "../model/character";
import { humanoidMap, type HumanoidMap } from "../skeleton/humanoidMap";
import { bendLimb } from "./bendLimb";
import {
  contactsOf,
  FEET,
  floorOf,
  legLength,
  slipOf,
  stretches,
  trackSoles,
  type Contacts,
  type Foot,
} from "./contacts";
import type { Fitting } from "../model/fitting";
import { holdHands } from "./holdHands";
import { closeLoop, type Loop } from "./loops";
import { mirrorMotion } from "./mirrorMotion";
import { copyMotion, standing, type Motion, type Standing } from "./motion";
import { layPoseEdits, turnsJoints } from "./poseEdits";
import { layTravel, setWay, wayOf } from "./travel";
import { smoothStep } from "../math/smoothStep";

export interface Fitted {
  readonly motion: Motion;
  /** Where it is played over and over, with its seam as it is now; null where it is not. */
  readonly loop: Loop | null;
  /** When feet stand, after fitting; null where the feet are not known. */
  readonly contacts: Contacts | null;
  /** How far the whole was moved so that it stands on the floor, metres. */
  readonly lifted: number;
}

/** A movement fitted to the figure: mirrored, bent, brought along its way, closed, set on the floor, feet held. */
export function fitMotion(character: Character, given: Motion, fitting: Fitting): Fitted {
  const map = humanoidMap(given.skeleton, character.jointMap);
  let motion = fitting.mirror ? mirrorMotion(given, map) : copyMotion(given);
  if (turnsJoints(fitting)) layPoseEdits(motion, map, fitting);
  layTravel(motion, fitting.travel);
  let loop: Loop | null = null;
  if (fitting.loop) ({ motion, loop } = closeLoop(motion, fitting.loop.from, fitting.loop.to));
  const soles = solesOf(character);
  let lifted = 0;
  if (soles && (fitting.ground || fitting.hold)) {
    lifted = -floorOf(trackSoles(motion, soles), motion.frames);
    setWay(
      motion,
      wayOf(motion).map(([x, y, z]) => [x, y + lifted, z]),
    );
  }
  const contacts = soles && layLegs(character, motion, map, soles, fitting, loop !== null);
  if (fitting.hands) holdHands(motion, map, loop !== null);
  if (fitting.speed !== 1) motion = { ...motion, fps: motion.fps * fitting.speed };
  return { motion, loop, contacts, lifted };
}

/** The pelvis comes down no faster than this to let a leg reach, seconds to either side. */
const EASE = 0.15;
/** A leg is let reach to this share of its length before the pelvis comes down. */
const REACH = 0.998;

/** Feet moved apart, held and lifted, hips raised: by the two joints of each leg. */
function layLegs(
  character: Character,
  motion: Motion,
  map: HumanoidMap,
  soles: Soles,
  fitting: Fitting,
  closed: boolean,
): Contacts {
  const leg = legLength(character);
  const tracks = trackSoles(motion, soles);
  const contacts = contactsOf(motion, tracks, leg);
  const moves = FEET.map((foot) => footMoves(motion, map, contacts, tracks, foot, fitting, closed));
  const hips = fitting.hips / 1000;
  if (!hips && moves.every((m) => m.every((v) => v === null))) return contacts;
  const way = wayOf(motion);
  const joints = FEET.map((foot) =>
    ["UpperLeg", "LowerLeg", "Foot"].map((bone) => map.jointOfBone.get(foot + bone) ?? -1),
  ) as [number, number, number][];
  if (joints.flat().some((j) => j < 0)) return contacts;
  for (const j of joints.flat()) motion.keyed[j] = 1;
  const room: Standing = { turns: [], places: [] };
  const targets: Vec3[][] = [];
  const down = new Float64Array(motion.frames);
  for (let f = 0; f < motion.frames; f++) {
    standing(motion, f, room);
    targets[f] = joints.map(([, , foot], i) => add(room.places[foot]!, moves[i]![f] ?? [0, 0, 0]));
    joints.forEach(([hip, knee, foot], i) => {
      const whole =
        length(sub(room.places[knee]!, room.places[hip]!)) + length(sub(room.places[foot]!, room.places[knee]!));
      const from = add(room.places[hip]!, [0, hips, 0]);
      const to = targets[f]![i]!;
      const flat = Math.hypot(to[0] - from[0], to[2] - from[2]);
      const most = Math.sqrt(Math.max(0, (REACH * whole) ** 2 - flat * flat));
      const was = length(sub(room.places[foot]!, room.places[hip]!));
      // a leg that was as straight before asks for nothing
      if (from[1] - to[1] > most && length(sub(to, from)) > was + 1e-4)
        down[f] = Math.max(down[f]!, from[1] - to[1] - most);
    });
  }
  const eased = easeDown(down, Math.round(EASE * motion.fps));
  setWay(
    motion,
    way.map(([x, y, z], f) => [x, y + hips - eased[f]!, z]),
  );
  for (let f = 0; f < motion.frames; f++) {
    standing(motion, f, room);
    joints.forEach((limb, i) => {
      const toes = rotate(room.turns[limb[2]]!, [0, 0, 1]);
      bendLimb(motion, f, room, limb, targets[f]![i]!, [toes[0], 0, toes[2]]);
    });
  }
  return contacts;
}

/** Greatest around each frame, then smoothed, so that nothing that was asked for is missed. */
function easeDown(values: Float64Array, half: number): Float64Array {
  if (!values.some((v) => v > 0)) return values;
  const wide = values.map((_, f) => {
    let most = 0;
    for (let k = Math.max(0, f - half); k <= Math.min(values.length - 1, f + half); k++)
      most = Math.max(most, values[k]!);
    return most;
  });
  return wide.map((_, f) => {
    let [sum, n] = [0, 0];
    for (let k = Math.max(0, f - half); k <= Math.min(values.length - 1, f + half); k++, n++) sum += wide[k]!;
    return sum / n;
  });
}

/** How far a foot is to be moved in each frame, metres; null where it stays. */
function footMoves(
  motion: Motion,
  map: HumanoidMap,
  contacts: Contacts,
  tracks: ReturnType<typeof trackSoles>,
  foot: Foot,
  fitting: Fitting,
  closed: boolean,
): (Vec3 | null)[] {
  const { frames } = motion;
  const held = fitting.hold ? heldMoves(motion, contacts, tracks, foot, closed) : null;
  const aside = fitting.stride ? asideOf(motion, map, foot, fitting.stride / 2000) : null;
  return Array.from({ length: frames }, (_, f): Vec3 | null => {
    const h = contacts.height[foot][f]!;
    const move = add(held?.[f] ?? [0, 0, 0], aside?.[f] ?? [0, 0, 0]);
    const low = h + move[1];
    const lift = fitting.ground && low < 0 ? -low : 0;
    const out: Vec3 = [move[0], move[1] + lift, move[2]];
    return length(out) > 1e-7 ? out : null;
  });
}

/** To the side of the pelvis, over the floor. */
function asideOf(motion: Motion, map: HumanoidMap, foot: Foot, metres: number): Vec3[] {
  const [left, right] = [map.jointOfBone.get("leftUpperLeg"), map.jointOfBone.get("rightUpperLeg")];
  const room: Standing = { turns: [], places: [] };
  return Array.from({ length: motion.frames }, (_, f) => {
    standing(motion, f, room);
    if (left === undefined || right === undefined) return [0, 0, 0];
    const d = sub(room.places[left]!, room.places[right]!);
    return scale(normalize([d[0], 0, d[2]]), foot === "left" ? metres : -metres);
  });
}

/**
 * Moves of a foot that keep what touches the ground where it stands, and on the floor; between two stands the one is
 * led
 * over to the other. @param closed the movement is played over and over, so that its first stand goes on from its last.
 */
function heldMoves(
  motion: Motion,
  contacts: Contacts,
  tracks: ReturnType<typeof trackSoles>,
  foot: Foot,
  closed: boolean,
): Vec3[] {
  const { frames, fps } = motion;
  const out = Array.from({ length: frames }, (): Vec3 => [0, 0, 0]);
  const found = stretches(contacts.stands[foot]);
  if (!found.length) return out;
  const h = contacts.height[foot];
  for (const [a, b] of found) {
    let [x, z] = [0, 0];
    const moves: [number, number][] = [[0, 0]];
    for (let f = a; f < b; f++) {
      const [dx, dz] = slipOf(tracks, foot, f, 1 / fps, contacts.ground);
      x -= dx;
      z -= dz;
      moves.push([x, z]);
    }
    // round the middle of the stand, so that neither end is drawn far
    const mean = moves.reduce(([p, q], [u, v]) => [p + u / moves.length, q + v / moves.length] as [number, number], [
      0, 0,
    ] as [number, number]);
    moves.forEach(([u, v], k) => (out[a + k] = [u - mean[0], -h[a + k]!, v - mean[1]]));
  }
  joinRound(out, found, closed, frames);
  const lead = (from: number, to: number, a: Vec3, b: Vec3): void => {
    for (let f = from + 1; f < to; f++) {
      const s = smoothStep((f - from) / (to - from));
      out[((f % frames) + frames) % frames] = add(scale(a, 1 - s), scale(b, s));
    }
  };
  found.forEach(([, b], k) => {
    const next = found[k + 1];
    if (next) lead(b, next[0], out[b]!, out[next[0]]!);
  });
  const [first, last] = [found[0]!, found[found.length - 1]!];
  const gap = frames - 1 - last[1] + first[0];
  if (closed && gap > 0) lead(last[1], last[1] + gap + 1, out[last[1]]!, out[first[0]]!);
  else {
    for (let f = 0; f < first[0]; f++) out[f] = out[first[0]]!;
    for (let f = last[1] + 1; f < frames; f++) out[f] = out[last[1]]!;
  }
  return out;
}

/** A stand that goes on over the seam of a loop is one: its end and its start are brought together. */
function joinRound(out: Vec3[], found: readonly (readonly [number, number])[], closed: boolean, frames: number): void {
  const [first, last] = [found[0]!, found[found.length - 1]!];
  if (!closed || first[0] !== 0 || last[1] !== frames - 1 || first === last) return;
  const shift = sub(out[0]!, out[frames - 1]!);
  const total = first[1] - first[0] + (last[1] - last[0]) + 1;
  const share = (first[1] - first[0] + 1) / total;
  for (let f = first[0]; f <= first[1]; f++) out[f] = sub(out[f]!, [shift[0] * (1 - share), 0, shift[2] * (1 - share)]);
  for (let f = last[0]; f <= last[1]; f++) out[f] = add(out[f]!, [shift[0] * share, 0, shift[2] * share]);
}
