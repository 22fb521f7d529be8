import { useMemo, type ReactNode } from "react";
import type { ScanState } from "../../session/scan";
import { CurveChart } from "../../ui/CurveChart";

/** Ends of the distances that are shown, mm. */
const MOST_MM = 3;
const STEPS = 60;

/**
 * How much of the laid skin lies within a distance of the scan; before it is laid on, what can be done with the
 * landmarks.
 */
export function ScanEvidence({ scan }: { scan: ScanState }): ReactNode {
  const points = useMemo(() => {
    if (!scan.laid) return [];
    const mm = scan.laid.off.mm.slice().sort();
    let n = 0;
    return Array.from({ length: STEPS + 1 }, (_, i) => {
      const x = (MOST_MM * i) / STEPS;
      while (n < mm.length && mm[n]! <= x) n++;
      return { x, y: (100 * n) / Math.max(1, mm.length) };
    });
  }, [scan.laid]);
  if (!scan.laid)
    return (
      <>
        <h2>{scan.name}</h2>
        <p className="muted t-small max-w-620 m-4-0">
          {scan.same
            ? "Look at it beside the figure, then take it on."
            : "Drag a landmark on the scan to where it belongs: dark ones are proposed, green ones were set " +
              "by hand. One that is left out is chosen in the list and set by a " +
              "click. On the figure the same landmarks show where they are meant."}
        </p>
      </>
    );
  return (
    <>
      <h2>
        Skin within a distance of the scan{" "}
        <span className="muted w-400 t-12">share of the outer skin that was laid on</span>
      </h2>
      <div className="plot">
        <CurveChart
          label="Share of the skin within a distance of the scan"
          xUnit=" mm"
          yUnit="%"
          curves={[{ name: "skin", points, tone: "accent" }]}
          limit={null}
          at={null}
        />
      </div>
    </>
  );
}
