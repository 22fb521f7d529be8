import type { ReactNode } from "react";
import { PROFILES } from "~core/checks/checkFacts";
import { LimitBar } from "../../ui/LimitBar";
import type { ShapeRow } from "./shapeRows";

const LIMIT = PROFILES.realtime.limits["pose.stretch"] ?? Infinity;

/** Shapes counted by region with the one that stretches skin most, the worst region first; for when none is chosen. */
export function RegionOverview({ rows }: { rows: readonly ShapeRow[] }): ReactNode {
  const regions = [...new Set(rows.map((r) => r.region))]
    .map((region) => {
      const of = rows.filter((r) => r.region === region);
      const worst = of.reduce<ShapeRow | null>(
        (most, r) => ((r.reading?.stretch ?? 0) > (most?.reading?.stretch ?? 0) ? r : most),
        null,
      );
      return { region, of, worst, stretch: worst?.reading?.stretch ?? 0 };
    })
    .sort((a, b) => b.stretch - a.stretch);
  return (
    <>
      <h2>By region, at full</h2>
      <div className="over-y-auto">
        <table className="plain">
          <thead>
            <tr>
              <th>Region</th>
              <th className="to-right">Shapes</th>
              <th className="to-right">With findings</th>
              <th>Stretched most</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {regions.map(({ region, of, worst, stretch }) => (
              <tr key={region}>
                <td>{region}</td>
                <td className="num">{of.length}</td>
                <td className="num">{of.filter((r) => r.worst && r.worst !== "note").length}</td>
                <td>{worst && <LimitBar value={stretch} limit={LIMIT} end={3} text={`${stretch.toFixed(2)} ×`} />}</td>
                <td className="mono break-words">{worst?.shape.name}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
