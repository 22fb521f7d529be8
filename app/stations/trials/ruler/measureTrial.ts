import { PROFILES } from "~core/checks/profile";
import { coarseFirst } from "~core/trials/moments";
import { trialFrames, type Trial } from "~core/trials/trial";
import type { FrameReading } from "~core/trials/watchFrame";
import { askJob, shareJob } from "../../../session/jobs/pageJobs";
import type { Loaded } from "../../../session/session";

/** Frames that are measured before they are shown: few at first, so that something is seen at once. */
const FIRST = 4;
const BATCH = 24;

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
    const got = await shareJob<"watch", number, FrameReading>(
      loaded,
      "watch",
      some,
      (part) => ({ trial, frames: [...part], profile, drivers }),
      { progress: (share) => tell((i + share * some.length) / frames.length), signal },
    );
    readings = [...readings, ...got];
    i += some.length;
    show(readings);
    feet ??= askJob(loaded, "watch feet", { trial, profile });
    void feet.catch(() => {}); // told where it is waited for
  }
  return [...readings, ...((await feet) ?? [])];
}
