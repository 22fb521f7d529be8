import type { Finding } from "../core/checks/finding";
import { poseFindings } from "../core/checks/pose/poseFindings";
import type { Profile } from "../core/checks/profile";
import { runChecks } from "../core/checks/runChecks";
import { makeRig, REST_MOMENT, type SkinMethod } from "../core/deform/rig";
import { readDelivery, type DeliveryFile, type ReadResult } from "../core/formats/readDelivery";
import { writeAndProve, type ReadBack } from "../core/ledger/handOff";
import { makeJointGauge } from "../core/measure/measureJoint";
import { sweepMotion, type SweepRow, type Tick } from "../core/measure/sweepMotion";
import type { Character } from "../core/model/character";
import { UserError } from "../core/model/userError";
import type { JointMotion } from "../core/skeleton/jointMotions";

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
