import { z } from "zod";
import { allocateDeformed } from "../../core/deform/rig";
import type { Clip } from "../../core/model/character";
import { bakeTrial } from "../../core/trials/bakeTrial";
import { momentAt } from "../../core/trials/momentAt";
import { speakTrial } from "../../core/trials/speakTrial";
import { trialSchema } from "../../core/trials/trial";
import { bodyLane, watchFeet, type BodyLane } from "../../core/trials/watchFeet";
import { watchFrame, type FrameReading, type WatchTables } from "../../core/trials/watchFrame";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { isUserError, UserError } from "../../core/model/userError";
import { profile } from "../inputs";
import { job, type JobContext } from "../job";

const tables = ({ rig, motions, gauge, face }: JobContext): WatchTables => {
  const reader = (): WatchTables["face"] => {
    try {
      return face();
    } catch (error) {
      if (isUserError(error)) return null; // a figure without a body has no face to read
      throw error;
    }
  };
  return { rig, motions, gauge, face: rig.character.shapes.length ? reader() : null };
};

/** Frames of a trial, each measured as the stage shows it; one answer a frame. */
export const watch = job({
  input: z.object({
    trial: trialSchema,
    frames: z.array(z.number().int().min(0)),
    profile,
    /** Whether correctives act. */
    drivers: z.boolean().default(true),
  }),
  async run(context, { trial, frames, profile: limits, drivers }, tick): Promise<FrameReading[]> {
    const known = tables(context);
    speakTrial(context.character, trial);
    const room = allocateDeformed(context.rig);
    const out: FrameReading[] = [];
    for (const [i, frame] of frames.entries()) {
      await tick(i, frames.length);
      const moment = momentAt(context.character, trial, frame / trial.fps, drivers);
      out.push(watchFrame(known, frame, moment, limits, room));
    }
    return out;
  },
});

/** What the body lane draws of a trial. */
export const laneOfBody = job({
  input: z.object({ trial: trialSchema }),
  run: ({ character }, { trial }): BodyLane | null => bodyLane(character, trial),
});

/**
 * A trial as a file: the character with one clip of all that plays, frame by frame, correctives and combinations with
 * it, for players that cannot drive shapes.
 */
export const glbOfTrial = job({
  input: z.object({ trial: trialSchema }),
  async run({ character }, { trial }): Promise<Uint8Array> {
    const clip = bakeTrial(character, trial, trial.name, true);
    if (!clip) throw new UserError("The character has no skeleton.", "", "Give it one at Skeleton first.");
    return writeGlb({ ...character, clips: [clip] });
  },
});

/** A trial as one clip of the character. */
export const clipOfTrial = job({
  input: z.object({ trial: trialSchema, name: z.string().min(1).max(200) }),
  run: ({ character }, { trial, name }): Clip | null => bakeTrial(character, trial, name),
});

/** How the feet stand over a whole trial. */
export const feetOfTrial = job({
  input: z.object({ trial: trialSchema, profile }),
  run: ({ character }, { trial, profile: { limits } }): FrameReading[] =>
    watchFeet(character, trial, limits["clip.foot-slide"]),
});
