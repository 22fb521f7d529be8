import type { JobView } from "~server/jobs/jobBoard";
import { JobCancelled } from "~jobs/ticker";
import { ask, Refusal } from "../refusal";
import type { Tell } from "./useWork";

const LOOK_MS = 200;

export const lookAtJob = (id: string): Promise<JobView> => ask(`/api/jobs/${id}`, {}) as Promise<JobView>;
export const cancelJob = (id: string): Promise<unknown> => ask(`/api/jobs/${id}`, { method: "DELETE" });

/**
 * Follows a job of the server to its end. @param aborted what becomes of it when the signal says so: it is cancelled,
 * or left to go on unwatched. @throws JobCancelled then, Refusal in the server's words.
 */
export async function followJob(
  id: string,
  tell: Tell,
  signal: AbortSignal,
  aborted: "cancel" | "leave" = "cancel",
): Promise<unknown> {
  for (;;) {
    if (signal.aborted) {
      if (aborted === "cancel") await cancelJob(id);
      throw new JobCancelled();
    }
    const { progress, before, state, result, error } = await lookAtJob(id);
    if (before > 0) tell(progress, `Waits for ${before} before it`);
    else tell(progress);
    if (state === "done") return result;
    if (state === "cancelled") throw new JobCancelled();
    if (state === "refused")
      throw new Refusal([error?.where && `${error.where}:`, error?.what].filter(Boolean).join(" "), error?.todo ?? "");
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}
