import type { Character, Driver } from "~core/model/character";
import type { PoseDriver, SampleSet } from "~core/model/poseDriver";
import { onTopWords, writtenGivingWay } from "./givingWay";
import { askJob } from "./jobs/pageJobs";
import { driveStep, samplesStep, written } from "./poseDrivers";
import type { ToldStep } from "./sculpt";
import type { Loaded, Session } from "./session";

type Method = Session["method"];
type Drivers = Pick<Character, "poseDrivers" | "sampleSets"> & { readonly drivers?: Character["drivers"] };

/** Correctives that were sculpted on top of some that are driven otherwise from now on, as they give way. */
async function givingWay(
  loaded: Loaded,
  changed: readonly string[],
  now: Drivers,
  method: Method,
): Promise<Awaited<ReturnType<typeof writtenGivingWay>> & { told: string }> {
  const input = { changed: [...changed], ...written<Record<string, never>>(now), method };
  const { edits } = await askJob(loaded, "ask again", input);
  return { ...(await writtenGivingWay(loaded.character, edits)), told: onTopWords(edits) };
}

type Change = Partial<Omit<Driver, "shape" | "axis">>;

/** The step that changes what drives a corrective; those sculpted on top give way to where it acts from now on. */
export async function driverStep(loaded: Loaded, name: string, change: Change, method: Method): Promise<ToldStep> {
  const step = { op: "set driver", name, driver: change } as const;
  // one that is switched off for a while comes back as it was
  if (change.enabled !== undefined) return { step, blobs: [] };
  const drivers = loaded.character.drivers.map((d) => (d.shape === name ? { ...d, ...change } : d));
  const { edits, blobs, told } = await givingWay(loaded, [name], { drivers }, method);
  return { step: edits.length ? { ...step, edits } : step, blobs, told };
}

/** The same for a corrective that is set by readings of a pose. @param controls weights that it reads and are made. */
export async function readingsStep(
  loaded: Loaded,
  driver: PoseDriver,
  method: Method,
  controls: readonly string[] = [],
): Promise<ToldStep> {
  const { poseDrivers = [] } = loaded.character;
  const step = driveStep(driver, controls);
  const was = poseDrivers.find((d) => d.shape === driver.shape);
  if (!was || was.enabled !== driver.enabled || controls.length) return { step, blobs: [] };
  const now = { poseDrivers: poseDrivers.map((d) => (d.shape === driver.shape ? driver : d)) };
  const { edits, blobs, told } = await givingWay(loaded, [driver.shape], now, method);
  return { step: edits.length ? { ...step, edits } : step, blobs, told };
}

/** The same for sampled poses that are weighed otherwise. */
export async function weighedStep(loaded: Loaded, set: SampleSet, method: Method): Promise<ToldStep> {
  const { sampleSets = [] } = loaded.character;
  const step = samplesStep(set);
  const was = sampleSets.find((s) => s.name === set.name);
  if (!was || was.enabled !== set.enabled) return { step, blobs: [] };
  const now = { sampleSets: sampleSets.map((s) => (s.name === set.name ? set : s)) };
  const changed = set.samples.flatMap((s) => s.shape ?? []);
  const { edits, blobs, told } = await givingWay(loaded, changed, now, method);
  return { step: edits.length ? { ...step, edits } : step, blobs, told };
}
