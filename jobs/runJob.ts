import type { Tick } from "../core/measure/sweepMotion";
import { UserError } from "../core/model/userError";
import { schemaFault } from "../core/model/schemaWords";
import type { Job, JobContext } from "./job";
import { JOBS, type JobInput, type JobName, type JobOutput } from "./jobs";

const isJob = (name: string): name is JobName => Object.hasOwn(JOBS, name);

/**
 * Runs a job by name. @param input as it came from another thread or host: it is read before anything is done.
 * @throws UserError for a job that is not known, an input that is none of its, and what the job itself refuses.
 */
export async function runJob<N extends JobName>(
  name: N,
  context: JobContext,
  input: JobInput<N>,
  tick: Tick = () => {},
): Promise<JobOutput<N>> {
  if (!isJob(name)) throw new UserError(`There is no job named ${String(name)}.`, "", "");
  const definition = JOBS[name] as unknown as Job<JobInput<N>, JobOutput<N>>;
  const read = definition.input.safeParse(input);
  if (!read.success) {
    const { what, where } = schemaFault(read.error, name);
    throw new UserError(`The input of ${name} does not fit: ${what}.`, where, "");
  }
  return definition.run(context, read.data, tick);
}
