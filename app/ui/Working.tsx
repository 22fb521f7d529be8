import LinearProgress from "@mui/material/LinearProgress";
import { useEffect, useState, type ReactNode } from "react";

/** Shorter work is over before anybody would read that it is on. */
const AFTER_MS = 400;

/** Says that the server works on a step, when that takes longer than a moment; how far it is nobody knows. */
export const Working = ({ on }: { on: boolean }): ReactNode => (on ? <Late /> : null);

function Late(): ReactNode {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  if (!shown) return null;
  return (
    <div role="status" style={{ fontSize: 12.5, width: "100%", margin: "4px 0 8px" }}>
      <span className="muted">The server works on it; the page can be used meanwhile.</span>
      <LinearProgress sx={{ height: 2, mt: 0.5 }} aria-label="Working on the step" />
    </div>
  );
}
