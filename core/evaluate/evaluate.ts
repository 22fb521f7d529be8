import type { Quat } from "../math/vec3";
import type { Character, Skeleton } from "../model/character";
import { readyShapes } from "./drivers/readyDrivers";
import { jointOffsets, offsetSkeleton } from "./offsetSkeleton";
import type { Moment } from "./moment";
import { chainedMatrices } from "./poseSkeleton";
import { layTwists } from "./layTwists";
import { layHand } from "./sources/handSource";
import { laySource } from "./sources/sources";
import type { Draft } from "./sources/sourceKind";
import { restTurns, turnOf, type Turns } from "./turns";

/** A moment as the character takes it: what every source, the hand and the drivers make of it together. */
export interface Evaluated {
  /** 4 x jointCount. */
  readonly turns: Turns;
  /** 3 x jointCount, in what each joint hangs on, metres; null where nothing travels. */
  readonly travel: Float64Array | null;
  /** By shape, in shape order, drivers added. */
  readonly weights: Float32Array;
  /** The skeleton with its joints where the shapes at these weights move them. */
  readonly skeleton: Skeleton | null;
  /** 3 x jointCount, bind space, metres: how far those shapes move them; null where none does. */
  readonly offsets: Float64Array | null;
  /** 16 x jointCount, joint space to character space; null without a skeleton. */
  readonly world: Float64Array | null;
}

/** Room that is used again from moment to moment; what it returned before is overwritten. */
export interface EvaluationRoom extends Draft {
  readonly world: Float64Array;
}
export function evaluationRoom({ skeleton, shapes }: Character): EvaluationRoom {
  const count = skeleton?.joints.length ?? 0;
  return {
    turns: restTurns(count),
    travel: new Float64Array(3 * count),
    travels: false,
    weights: new Float32Array(shapes.length),
    world: new Float64Array(16 * count),
  };
}

/**
 * What a character does at a moment: sources in their order, the hand over them, joints that share a twist, then
 * drivers, then shapes that move joints.
 * @param room from `evaluationRoom`, to be used again; the result lives in it.
 */
export function evaluate(character: Character, moment: Moment, room = evaluationRoom(character)): Evaluated {
  const { turns, travel, weights, world } = room;
  restTurns(turns.length / 4, turns);
  travel.fill(0);
  weights.fill(0);
  room.travels = false;
  for (const source of moment.sources ?? []) laySource(source, character, room);
  layHand(moment, character, room);
  layTwists(character, moment.pose, turns);
  if (moment.drivers)
    for (const driver of readyShapes(character).drivers) if (!moment.off?.includes(driver.group)) driver.act(room);
  const offsets = jointOffsets(character, weights);
  const skeleton = character.skeleton && offsets ? offsetSkeleton(character.skeleton, offsets) : character.skeleton;
  const moved = room.travels ? travel : null;
  return {
    turns,
    travel: moved,
    weights,
    skeleton,
    offsets,
    world: skeleton && chainedMatrices(skeleton, turnIn(turns), moved, world),
  };
}

/** Weights of all shapes at a moment, in shape order, drivers added. */
export const weightsAt = (character: Character, moment: Moment): Float32Array => evaluate(character, moment).weights;

/** How far a joint is turned away from rest; null where it is not. */
const turnIn =
  (turns: Turns) =>
  (joint: number): Quat | null =>
    turns[4 * joint] !== 0 || turns[4 * joint + 1] !== 0 || turns[4 * joint + 2] !== 0 ? turnOf(turns, joint) : null;
