import type { JobView } from "~server/jobs/jobBoard";
import { ask, Refusal } from "./ledgerClient";

/** Follows a job of the server to its end. @param progress gets how far it is, and how many jobs come before it. */
export async function followJob(
  id: string,
  progress: (share: number, before: number) => void,
  cancelled: () => boolean,
): Promise<unknown> {
  for (;;) {
    if (cancelled()) {
      await ask(`/api/jobs/${id}`, { method: "DELETE" });
      throw new Refusal("Cancelled.", "");
    }
    const view = (await ask(`/api/jobs/${id}`, {})) as JobView;
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
