import { z } from "zod";
import { readFeet, type FeetReading } from "../../core/clips/contacts";
import { fitClip as fit, fittedMotion, unfitted } from "../../core/clips/fitClip";
import { readHands, type HandsReading } from "../../core/clips/holdHands";
import { findLoop, type Loop } from "../../core/clips/loops";
import { readArms } from "../../core/clips/readArms";
import type { Clip } from "../../core/model/character";
import { fittingSchema } from "../../core/model/fitting";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { UserError } from "../../core/model/userError";
import { job } from "../job";

export interface ClipReading {
  /** The clip with the fitting; what it was before stands in its `fit`. */
  readonly clip: Clip;
  readonly feet: FeetReading | null;
  /** How near the hands and elbows come to the trunk, mm; negative: within it. Null where arms are not mapped. */
  readonly arms: number | null;
  readonly hands: HandsReading | null;
  /** Where the clip as it came can be closed. */
  readonly loop: Loop | null;
  /** The seam of the loop that is set. */
  readonly seam: Loop | null;
}

/** A clip with a fitting, and how it stands then. */
export const fitClip = job({
  input: z.object({ clip: z.string(), fitting: fittingSchema.nullable() }),
  run({ character }, { clip: name, fitting }): ClipReading {
    const clip = character.clips.find((c) => c.name === name);
    const motion = clip && unfitted(character, clip);
    if (!clip || !motion) throw new UserError(`There is no clip named ${name}.`, "", "Choose another.");
    const fitted = fitting ? fittedMotion(character, clip, fitting) : null;
    const shown = fitted?.motion ?? motion;
    return {
      clip: fit(character, clip, fitting),
      feet: readFeet(character, shown, fitted?.contacts ?? undefined),
      arms: readArms(character, shown),
      hands: readHands(shown, humanoidMap(shown.skeleton, character.jointMap)),
      loop: findLoop(motion),
      seam: fitted?.loop ?? null,
    };
  },
});
