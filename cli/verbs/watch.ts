import path from "node:path";
import { clipSeconds } from "../../core/clips/motion";
import { summarize } from "../../core/checks/runChecks";
import { parseJsonText } from "../../core/model/parseJsonText";
import { schemaFault } from "../../core/model/schemaWords";
import { shortName, UserError } from "../../core/model/userError";
import type { Character } from "../../core/model/character";
import { coarseFirst, momentsOf } from "../../core/trials/moments";
import { missingClips } from "../../core/trials/momentAt";
import {
  clipPiece,
  emptyTrial,
  RATES,
  trialFrames,
  trialSchema,
  trialSeconds,
  type Trial,
} from "../../core/trials/trial";
import type { FrameReading } from "../../core/trials/watchFrame";
import { withNodeJobs } from "../../workers/nodeJobs";
import { profileFrom } from "../options";
import { printJson } from "../printJson";
import { readBytes, readCharacter } from "../readCharacter";
import { table } from "../table";

export interface TrialOptions {
  readonly clip?: string;
  readonly trial?: string;
  readonly fps?: string;
}

/** Longest trial that is watched, frames. */
const MOST_FRAMES = 20_000;

/**
 * The trial that is asked for: a file, a clip by name, or all clips of the character one after another. @throws
 * UserError
 */
export function trialFrom(character: Character, { clip, trial, fps }: TrialOptions): Trial {
  const rate = fps === undefined ? undefined : RATES.find((r) => r === Number(fps));
  if (fps !== undefined && !rate) throw new UserError(`"${shortName(fps)}" is not ${RATES.join(", ")}.`, "--fps", "");
  const made = trial ? readTrial(trial) : ofClips(character, clip);
  const asked = { ...made, fps: rate ?? made.fps };
  const missing = missingClips(character, asked);
  if (missing.length)
    throw new UserError(
      `There is no clip named ${shortName(missing[0]!)}.`,
      trial ? "--trial" : "--clip",
      character.clips.length
        ? `It holds ${character.clips.map((c) => shortName(c.name)).join(", ")}.`
        : "Bring one with retarget.",
    );
  if (trialFrames(asked) > MOST_FRAMES)
    throw new UserError(
      `The trial has ${trialFrames(asked)} frames; up to ${MOST_FRAMES} are watched.`,
      "--fps",
      "Ask for fewer frames a second, or for one clip.",
    );
  return asked;
}

function readTrial(file: string): Trial {
  const json = parseJsonText(new TextDecoder().decode(readBytes(file)), file, "The trial cannot be read as JSON.");
  const parsed = trialSchema.safeParse(json);
  if (parsed.success) return parsed.data;
  const { what, where } = schemaFault(parsed.error);
  throw new UserError(`The trial does not fit: ${what}.`, `${file}, ${where}`, "See docs/formats.md.");
}

function ofClips(character: Character, only: string | undefined): Trial {
  const clips = only === undefined ? character.clips : character.clips.filter((c) => c.name === only);
  if (clips.length === 0 && only === undefined)
    throw new UserError("The file holds no clip to watch.", character.name, "Bring one with retarget.");
  const out = emptyTrial(only ?? "all clips");
  let start = 0;
  const named = clips.length ? clips : [{ name: only!, tracks: [] }];
  for (const [i, c] of named.entries()) {
    const to = clipSeconds(c);
    out.lanes.body.push(clipPiece(c.name, to, start, `clip ${i + 1}`));
    start += to + 1 / out.fps;
  }
  return out;
}

/** Every frame of a trial on every processor. */
export const watchTrial = (character: Character, trial: Trial, profileName: string): Promise<FrameReading[]> =>
  withNodeJobs(async (pool) => {
    const profile = profileFrom(profileName);
    const [frames, feet, spoken] = await Promise.all([
      pool.share<"watch", number, FrameReading>(character, "watch", coarseFirst(trialFrames(trial)), (some) => ({
        trial,
        frames: [...some],
        profile,
      })),
      pool.ask(character, "watch feet", { trial, profile }),
      pool.ask(character, "watch speech", { trial }),
    ]);
    return [...frames, ...feet, ...spoken];
  });

/** Measures every frame of a clip or trial; what is beyond a limit as moments, worst first. */
export async function watch(
  file: string,
  options: TrialOptions & { profile: string; json?: boolean },
): Promise<number> {
  const { character, sha256 } = await readCharacter(file);
  const trial = trialFrom(character, options);
  const moments = momentsOf(await watchTrial(character, trial, options.profile), trial.fps);
  const summary = summarize(moments as never);
  const frames = trialFrames(trial);
  if (options.json)
    printJson({
      file: path.basename(file),
      sha256,
      trial: trial.name,
      fps: trial.fps,
      frames,
      seconds: trialSeconds(trial),
      moments: moments.map(({ place, times, ...m }) => ({ ...m, place, times })),
      summary,
    });
  else {
    process.stdout.write(`${trial.name}: ${frames} frames at ${trial.fps} a second\n\n`);
    process.stdout.write(
      `${table(
        ["", "from, s", "to, s", "worst at, s", "what"],
        moments.map((m) => [m.severity, m.from, m.to, m.worstAt, m.message]),
      )}\n`,
    );
  }
  return summary.error > 0 ? 1 : 0;
}
