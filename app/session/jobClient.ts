import type { JobView } from "~server/jobs/jobBoard";
import { ask, Refusal } from "./refusal";

export const lookAtJob = (id: string): Promise<JobView> => ask(`/api/jobs/${id}`, {}) as Promise<JobView>;
export const cancelJob = (id: string): Promise<unknown> => ask(`/api/jobs/${id}`, { method: "DELETE" });

/** Follows a job of the server to its end. @param progress gets how far it is, and how many jobs come before it. */
export async function followJob(
  id: string,
  progress: (share: number, before: number) => void,
  cancelled: () => boolean,
): Promise<unknown> {
  for (;;) {
    if (cancelled()) {
      await cancelJob(id);
      throw new Refusal("Cancelled.", "");
    }
    const view = await lookAtJob(id);
    progress(view.progress, view.before);
    if (view.state === "done") return view.result;
    if (view.state === "cancelled") throw new Refusal("Cancelled.", "");
    if (view.state === "refused")
      throw new Refusal(
        [view.error?.where && `${view.error.where}:`, view.error?.what].filter(Boolean).join(" "),
        view.error?.todo ?? "",
      );
    await new Promise((r) => setTimeout(r, 200));
  }
}
