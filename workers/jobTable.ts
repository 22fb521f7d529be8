import type { Finding } from "../core/checks/finding";
import { poseFindings } from "../core/checks/pose/poseFindings";
import type { Profile } from "../core/checks/profile";
import { runChecks } from "../core/checks/runChecks";
import { makeRig, REST_MOMENT, type SkinMethod } from "../core/deform/rig";
import { readDelivery, type DeliveryFile, type ReadResult } from "../core/formats/readDelivery";
import { compareDeliveries, type DeliveryComparison } from "../core/ledger/compareDeliveries";
import { deliveryNames } from "../core/ledger/relinkNames";
import { replay, type ReplayedStep } from "../core/ledger/replay";
import type { Step } from "../core/ledger/steps";
import { writeAndProve, type ReadBack } from "../core/ledger/handOff";
import { makeJointGauge } from "../core/measure/measureJoint";
import { sweepMotion, type SweepRow, type Tick } from "../core/measure/sweepMotion";
import type { Character } from "../core/model/character";
import { UserError } from "../core/model/userError";
import type { JointMotion } from "../core/skeleton/jointMotions";

export interface Relinked extends ReadResult {
  readonly comparison: DeliveryComparison;
  readonly steps: readonly ReplayedStep[];
  /** Of the new delivery after the steps. */
  readonly findings: Finding[];
}
/** A delivery that shares less than this with the one before is another character. */
const LEAST_ALIKE = 0.4;

/**
 * Every long job, by name. The same functions run in the page's web worker and in the server's Node worker;
 * `tick` reports progress between steps and throws when the job is cancelled.
 */
export const JOBS = {
  "read delivery": async (input: { files: DeliveryFile[]; profile: Profile }, tick: Tick): Promise<ReadResult & { findings: Finding[] }> => {
    await tick(0, 100);
    const read = await readDelivery(input.files);
    const { findings } = await runChecks(read.character, input.profile, { tick: (done, total) => tick(30 + (70 * done) / total, 100) });
    await tick(100, 100);
    return { ...read, findings };
  },
  /** Reads the next delivery of a character, compares it with the one before and runs the ledger on it. */
  relink: async (input: { files: DeliveryFile[]; before: Character; steps: Step[]; blobs: ReadonlyMap<string, Uint8Array>; profile: Profile }, tick: Tick): Promise<Relinked> => {
    await tick(0, 100);
    const read = await readDelivery(input.files);
    await tick(20, 100);
    const comparison = compareDeliveries(input.before, read.character);
    if (comparison.alike < LEAST_ALIKE) throw new UserError(`Only ${Math.round(100 * comparison.alike)} % of the parts, joints and shapes of ${input.before.name} are in it.`, read.mainFile, "Take it in as a character of its own on the cast page.");
    const run = await replay(read.character, deliveryNames(input.before), input.steps, (h) => input.blobs.get(h), input.profile, (done, total) => tick(25 + (35 * done) / total, 100));
    const { findings } = await runChecks(run.character, input.profile, { tick: (done, total) => tick(60 + (40 * done) / total, 100) });
    return { ...read, comparison, steps: run.steps, findings };
  },
  check: async (input: { character: Character; profile: Profile }, tick: Tick): Promise<Finding[]> => (await runChecks(input.character, input.profile, { tick })).findings,
  sweep: async (input: { character: Character; motion: JointMotion; steps: number; method: SkinMethod; profile: Profile }, tick: Tick): Promise<{ rows: SweepRow[]; findings: Finding[] }> => {
    const joint = input.character.skeleton?.joints.findIndex((j) => j.name === input.motion.joint) ?? -1;
    const gauge = joint < 0 ? null : makeJointGauge(makeRig(input.character), joint);
    if (!gauge) throw new UserError(`No part is bent by ${input.motion.joint}.`, "sweep", "Choose a joint that holds skin.");
    const rows = await sweepMotion(gauge, input.motion, input.steps, { ...REST_MOMENT, method: input.method }, tick);
    return { rows, findings: poseFindings(rows, input.profile) };
  },
  "hand off": async (input: { character: Character }, tick: Tick): Promise<{ glb: Uint8Array; sidecar: string; readBack: ReadBack }> => writeAndProve(input.character, tick),
} as const;

export type JobName = keyof typeof JOBS;
export type JobInput<N extends JobName> = Parameters<(typeof JOBS)[N]>[0];
export type JobOutput<N extends JobName> = Awaited<ReturnType<(typeof JOBS)[N]>>;

export type RunJob = <N extends JobName>(name: N, input: JobInput<N>, tick: Tick) => Promise<JobOutput<N>>;
export const runJobHere: RunJob = (name, input, tick) => (JOBS[name] as (i: unknown, t: Tick) => Promise<never>)(input, tick);
