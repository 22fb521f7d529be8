import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import type { ReactNode } from "react";

/** How far a long piece of work is, with a way to stop it. */
export function Progress({
  title,
  share,
  onCancel,
}: {
  title: string;
  share: number;
  onCancel: () => void;
}): ReactNode {
  return (
    <div className="line one-row wide" role="status">
      <span className="nowrap t-small">{title}</span>
      <LinearProgress variant="determinate" value={100 * share} sx={{ flex: 1, minWidth: 60 }} aria-label={title} />
      <span className="mono">{Math.round(100 * share)} %</span>
      <Button onClick={onCancel}>Cancel</Button>
    </div>
  );
}
