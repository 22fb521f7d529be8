import { z } from "zod";
import type { Spoken } from "../../core/speech/speak";
import { speakPiece } from "../../core/trials/speakTrial";
import { linesOf } from "../../core/trials/spokenLines";
import { trialSchema } from "../../core/trials/trial";
import { watchSpeech as read } from "../../core/trials/watchSpeech";
import type { FrameReading } from "../../core/trials/watchFrame";
import { job } from "../job";

/** Lines of a trial as the character speaks them. */
export const speakLines = job({
  input: z.object({ trial: trialSchema }),
  async run({ character }, { trial }, tick): Promise<{ readonly id: string; readonly spoken: Spoken }[]> {
    const lines = linesOf(trial);
    const out: { id: string; spoken: Spoken }[] = [];
    for (const [i, piece] of lines.entries()) {
      await tick(i, lines.length);
      out.push({ id: piece.id, spoken: speakPiece(character, trial, piece) });
    }
    return out;
  },
});

/** Sounds of a trial's lines that the mouth does not meet. */
export const watchSpeech = job({
  input: z.object({ trial: trialSchema }),
  run: ({ character }, { trial }): FrameReading[] => read(character, trial),
});
