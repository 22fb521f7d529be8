import { PROFILES } from "~core/checks/checkFacts";
import { coarseFirst } from "~core/trials/moments";
import { emptyTrial, trialFrames, type Trial } from "~core/trials/trial";
import type { FrameReading } from "~core/trials/watchFrame";
import type { JobInput } from "~jobs/jobs";
import { askJob, shareJob, startJob } from "../../../session/jobs/pageJobs";
import type { Loaded } from "../../../session/session";

/** Frames that are measured before they are shown: few at first, so that something is seen at once. */
const FIRST = 2;
const BATCH = 24;

/** Makes a thread ready to measure, so that the first frames are not waited for. */
export const readyToMeasure = (loaded: Loaded): Promise<unknown> =>
  startJob(loaded, "watch", { trial: emptyTrial("none"), frames: [], profile: PROFILES.realtime }, {});

/**
 * Every frame of a trial on a character, coarsely first.
 * @param show gets what is in so far.
 * @throws JobCancelled once it was cancelled.
 */
export async function measureTrial(
  loaded: Loaded,
  trial: Trial,
  drivers: boolean,
  tell: (share: number) => void,
  signal: AbortSignal,
  show: (readings: readonly FrameReading[]) => void = () => {},
): Promise<readonly FrameReading[]> {
  const profile = PROFILES.realtime;
  let readings: readonly FrameReading[] = [];
  const frames = coarseFirst(trialFrames(trial));
  // feet are read in one go beside the frames once the first of those are in
  let feet: Promise<FrameReading[]> | null = null;
  for (let i = 0; i < frames.length;) {
    const some = frames.slice(i, i + (i === 0 ? FIRST : BATCH));
    const options = { progress: (share: number) => tell((i + share * some.length) / frames.length), signal };
    const inputOf = (part: readonly number[]): JobInput<"watch"> => ({ trial, frames: [...part], profile, drivers });
    // the first go to one thread that was made ready; the others may still have to be
    const got =
      i === 0
        ? await startJob(loaded, "watch", inputOf(some), options)
        : await shareJob<"watch", number, FrameReading>(loaded, "watch", some, inputOf, options);
    readings = [...readings, ...got];
    i += some.length;
    show(readings);
    feet ??= askJob(loaded, "watch feet", { trial, profile });
    void feet.catch(() => {}); // told where it is waited for
  }
  const spoken = await startJob(loaded, "watch speech", { trial }, { signal });
  return [...readings, ...((await feet) ?? []), ...spoken];
}
