import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import { useEffect, useState, type ReactNode } from "react";
import { useStore } from "zustand";
import type { JobView } from "~server/jobs/jobBoard";
import { cancelJob, lookAtJob } from "../session/jobs/serverJobs";
import { stepsAtWork } from "../session/stepsAtWork";

/** Shorter work is over before anybody would read that it is on. */
const AFTER_MS = 400;
const LOOK_MS = 250;

/** Says how far the server is with a step, when that takes longer than a moment, with a way to stop it. */
export const Working = ({ on }: { on: boolean }): ReactNode => (on ? <Late /> : null);

function Late(): ReactNode {
  const [shown, setShown] = useState(false);
  const job = useStore(stepsAtWork, (s) => s.jobs[0] ?? null);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  return shown && <AtWork key={job} job={job} />;
}

function AtWork({ job }: { job: string | null }): ReactNode {
  const [view, setView] = useState<JobView | null>(null);
  const [stopping, setStopping] = useState(false);
  useEffect(() => {
    if (job === null) return;
    // the job is not known before all that was sent has arrived; that is no trouble
    const look = (): void =>
      void lookAtJob(job)
        .then(setView)
        .catch(() => {});
    look();
    const timer = setInterval(look, LOOK_MS);
    return () => clearInterval(timer);
  }, [job]);
  const share = view?.progress ?? 0;
  const says = stopping
    ? "Stopping…"
    : view && view.before > 0
      ? `${view.before} before it`
      : "The server works on it; the page can be used meanwhile.";
  return (
    <div className="line one-row t-small wide m-4-0-8" role="status">
      <span className="muted">{says}</span>
      <LinearProgress
        {...(share > 0 ? { variant: "determinate", value: 100 * share } : {})}
        sx={{ height: 2, flex: 1, minWidth: 40 }}
        aria-label="Working on the step"
      />
      {share > 0 && <span className="mono">{Math.round(100 * share)} %</span>}
      <Button
        sx={{ flex: "none" }}
        disabled={!view || stopping}
        onClick={() => {
          if (job === null) return;
          setStopping(true);
          void cancelJob(job).catch(() => setStopping(false));
        }}>
        Cancel
      </Button>
    </div>
  );
}
