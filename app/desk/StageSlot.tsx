import { lazy, Suspense, useEffect, useState, type ReactNode } from "react";

const Stage = lazy(() => import("../stage/Stage"));

/** The stage is drawn in the browser only, and fetched after the page stands. */
export function StageSlot(): ReactNode {
  const [mounted, setMounted] = useState(false);
  useEffect(() => setMounted(true), []);
  const waiting = <section className="stage" aria-label="Stage" />;
  return mounted ? <Suspense fallback={waiting}><Stage /></Suspense> : waiting;
}
