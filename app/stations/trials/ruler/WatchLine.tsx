import { useMemo, type ReactNode } from "react";
import { trialSeconds, type Trial } from "~core/trials/trial";
import { heatCss } from "../../../ui/heatCss";
import { LINE, TOP } from "./rulerView";

/** The worst of each frame, in even colour; frames that are not measured are left bare. */
export function WatchLine({
  trial,
  line,
  x,
}: {
  trial: Trial;
  line: Float32Array | null;
  x: (t: number) => number;
}): ReactNode {
  const runs = useMemo(() => {
    if (!line) return [];
    const out: { from: number; to: number; level: number }[] = [];
    line.forEach((v, f) => {
      if (Number.isNaN(v)) return;
      // a third of the scale is the limit, its end three times that
      const level = Math.round(8 * Math.min(1, v / 3));
      const last = out[out.length - 1];
      if (last && last.level === level && last.to === f) last.to = f + 1;
      else out.push({ from: f, to: f + 1, level });
    });
    return out;
  }, [line]);
  return (
    <g aria-hidden>
      <rect x={x(0)} y={TOP} width={x(trialSeconds(trial)) - x(0)} height={LINE} className="bare" />
      {runs.map((r) => (
        <rect
          key={r.from}
          x={x(r.from / trial.fps)}
          width={Math.max(1, x(r.to / trial.fps) - x(r.from / trial.fps) + 0.3)}
          y={TOP}
          height={LINE}
          fill={heatCss(r.level / 8)}
        />
      ))}
    </g>
  );
}
