import Button from "@mui/material/Button";
import { lazy, Suspense, type ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { clearWay } from "../session/clearWay";
import { useMounted } from "../ui/useMounted";

const Stage = lazy(() => clearWay().then(() => import("../stage/Stage")));

/** The stage is drawn in the browser only, and fetched after the page stands. */
export function StageSlot(): ReactNode {
  const mounted = useMounted();
  const waiting = <section className="stage" aria-label="Stage" />;
  return mounted ? (
    <ErrorBoundary FallbackComponent={StageFailed}>
      <Suspense fallback={waiting}>
        <Stage />
      </Suspense>
    </ErrorBoundary>
  ) : (
    waiting
  );
}

const NO_WEBGL =
  "The stage cannot be drawn: this browser offers no WebGL. Switch on its hardware acceleration, or use another " +
  "browser. Lists, pictures, measures and hand-offs work without the stage.";
const FAILED = "The stage could not be drawn. Nothing that was saved is lost.";

function StageFailed({ resetErrorBoundary }: FallbackProps): ReactNode {
  const canDraw = document.createElement("canvas").getContext("webgl2") !== null;
  return (
    <section className="stage" aria-label="Stage">
      <div className="stage-note" role="alert">
        <p className="m-0">{canDraw ? FAILED : NO_WEBGL}</p>
        <Button variant="outlined" onClick={resetErrorBoundary}>
          Try again
        </Button>
      </div>
    </section>
  );
}
