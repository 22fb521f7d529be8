import type { JobView } from "~server/jobs/jobBoard";
import { ask, Refusal } from "./ledgerClient";

/** Follows a job of the server to its end. */
export async function followJob(id: string, progress: (share: number) => void, cancelled: () => boolean): Promise<unknown> {
  for (;;) {
    if (cancelled()) {
      await ask(`/api/jobs/${id}`, { method: "DELETE" });
      throw new Refusal("Cancelled.", "", false);
    }
    const view = (await ask(`/api/jobs/${id}`, {})) as JobView;
    progress(view.progress);
    if (view.state === "done") return view.result;
    if (view.state === "cancelled") throw new Refusal("Cancelled.", "", false);
    if (view.state === "refused") throw new Refusal([view.error?.where && `${view.error.where}:`, view.error?.what].filter(Boolean).join(" "), view.error?.todo ?? "", false);
    await new Promise((r) => setTimeout(r, 200));
  }
}
