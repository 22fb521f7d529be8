import type { z } from "zod";
import type { FaceReader } from "../core/checks/pairs/readPairs";
import type { Rig } from "../core/deform/rig";
import type { Step } from "../core/ledger/steps";
import type { JointGauge } from "../core/measure/measureJoint";
import type { Tick } from "../core/measure/sweepMotion";
import type { Character } from "../core/model/character";
import type { JointMotion } from "../core/skeleton/jointMotions";

/** A character by what it is made of: its base by hash, and the steps on it. */
export interface CharacterRef {
  readonly baseBlob: string;
  readonly steps: readonly Step[];
}

/** One state of a character and the tables that jobs share; each is made when it is first asked for. */
export interface JobContext {
  readonly character: Character;
  readonly rig: Rig;
  /** The joints' motions, none where the skeleton is not mapped. */
  readonly motions: readonly JointMotion[];
  /** The motion of an id. @throws UserError when the character has none such. */
  readonly motion: (id: string) => JointMotion;
  /** Null for a joint that is not there or bends no skin. */
  readonly gauge: (joint: string) => JointGauge | null;
  readonly face: () => FaceReader;
  /** Another character, replayed where the job runs. */
  readonly other: (ref: CharacterRef) => Promise<Character>;
}

/**
 * Long work on one state of a character. Inputs are plain data and typed arrays, so that they can be stored and sent to
 * whichever thread or host runs it; outputs too.
 */
export interface Job<I, O, Read = I> {
  readonly input: z.ZodType<Read, I>;
  readonly run: (context: JobContext, input: Read, tick: Tick) => O | Promise<O>;
}
export const job = <I, O, Read>(definition: Job<I, O, Read>): Job<I, O, Read> => definition;
