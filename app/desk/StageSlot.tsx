import { lazy, Suspense, type ReactNode } from "react";
import { clearWay } from "../session/clearWay";
import { useMounted } from "../ui/useMounted";

const Stage = lazy(() => clearWay().then(() => import("../stage/Stage")));

/** The stage is drawn in the browser only, and fetched after the page stands. */
export function StageSlot(): ReactNode {
  const mounted = useMounted();
  const waiting = <section className="stage" aria-label="Stage" />;
  return mounted ? (
    <Suspense fallback={waiting}>
      <Stage />
    </Suspense>
  ) : (
    waiting
  );
}
