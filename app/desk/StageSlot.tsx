import Button from "@mui/material/Button";
import { lazy, Suspense, type ReactNode } from "react";
import { clearWay } from "../session/clearWay";
import { FailBoundary } from "../ui/FailBoundary";
import { useMounted } from "../ui/useMounted";

const Stage = lazy(() => clearWay().then(() => import("../stage/Stage")));

/** The stage is drawn in the browser only, and fetched after the page stands. */
export function StageSlot(): ReactNode {
  const mounted = useMounted();
  const waiting = <section className="stage" aria-label="Stage" />;
  return mounted ? (
    <FailBoundary instead={(again) => <StageFailed again={again} />}>
      <Suspense fallback={waiting}>
        <Stage />
      </Suspense>
    </FailBoundary>
  ) : (
    waiting
  );
}

const NO_WEBGL =
  "The stage cannot be drawn: this browser offers no WebGL. Switch on its hardware acceleration, or use another " +
  "browser. Lists, pictures, measures and hand-offs work without the stage.";
const FAILED = "The stage could not be drawn. Nothing that was saved is lost.";

function StageFailed({ again }: { again: () => void }): ReactNode {
  const canDraw = document.createElement("canvas").getContext("webgl2") !== null;
  return (
    <section className="stage" aria-label="Stage">
      <div className="stage-note" role="alert">
        <p className="m-0">{canDraw ? FAILED : NO_WEBGL}</p>
        <Button variant="outlined" onClick={again}>
          Try again
        </Button>
      </div>
    </section>
  );
}
