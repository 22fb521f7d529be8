import { useDeferredValue, useMemo, type ReactNode } from "react";
import { useSearchParams } from "react-router";
import { PROFILES } from "~core/checks/checkFacts";
import { useSession, useSessionStore } from "../../session/session";
import { setWeight } from "../../session/slices/view";
import { useCharacterPage } from "../../session/useDesk";
import { LimitBar } from "../../ui/LimitBar";
import { WeightBar } from "../../ui/WeightBar";
import { RegionOverview } from "./RegionOverview";
import { ScanEvidence } from "./ScanEvidence";
import { shapeRows } from "./shapeRows";
import { useShapeReadings } from "./useShapeReadings";

/** The chosen shape in numbers: how far it moves each part, how much it stretches, what was found. */
export function ShapeEvidence(): ReactNode {
  const store = useSessionStore();
  // after the sheet, which is looked at first
  const loaded = useDeferredValue(
    useSession((s) => s.loaded),
    null,
  );
  const scan = useSession((s) => s.scan);
  const weights = useSession((s) => s.weights);
  const [query] = useSearchParams();
  const { findings } = useCharacterPage();
  const { readings, share } = useShapeReadings(loaded);
  const name = query.get("open");
  const rows = useMemo(() => (loaded ? shapeRows(loaded, readings, findings) : []), [loaded, readings, findings]);
  const row = name ? rows.find((r) => r.shape.name === name) : undefined;
  if (scan) return <ScanEvidence scan={scan} />;
  if (!loaded || rows.length === 0) return <p className="muted">Choose a shape to see what it moves.</p>;
  // where shapes act is read from all of their movement: not before there is something to say of it
  if (!row && readings) return <RegionOverview rows={rows} />;
  if (!row) return share === null ? null : <p className="muted">Every shape is being measured.</p>;
  const moved = row.shape.deltas
    .map((d) => {
      let max = 0;
      for (let k = 0; k < d.vertices.length; k++)
        max = Math.max(max, Math.hypot(d.deltas[3 * k]!, d.deltas[3 * k + 1]!, d.deltas[3 * k + 2]!));
      return { part: loaded.character.parts[d.part]!.name, count: d.vertices.length, mm: 1000 * max };
    })
    .sort((a, b) => b.mm - a.mm);
  return (
    <>
      <div className="spread rigid">
        <h2>
          <span className="mono">{row.shape.name}</span>{" "}
          <span className="muted w-400 t-12">
            {row.shape.label === row.shape.name ? "" : `${row.shape.label} · `}
            {row.region}, {row.side === "both" ? "both sides" : row.side}
          </span>
        </h2>
        <div className="wide-220 row-flex">
          {row.region !== "correctives" && (
            <WeightBar
              label={`${row.shape.name}, evidence`}
              value={weights[row.shape.name] ?? 0}
              onChange={(w) => setWeight(store, row.shape.name, w)}
            />
          )}
        </div>
      </div>
      <div className="two over-auto">
        <table className="plain">
          <thead>
            <tr>
              <th>Part it moves</th>
              <th className="to-right">Vertices</th>
              <th className="to-right">Farthest</th>
            </tr>
          </thead>
          <tbody>
            {moved.map((m) => (
              <tr key={m.part}>
                <td>{m.part}</td>
                <td className="num">{m.count}</td>
                <td className="num">{m.mm.toFixed(1)} mm</td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="stack gap-6 content-start">
          <p className="label">At full</p>
          {row.reading && (
            <LimitBar
              value={row.reading.stretch}
              limit={PROFILES.realtime.limits["pose.stretch"]}
              end={3}
              text={`stretch ${row.reading.stretch.toFixed(2)} ×`}
            />
          )}
          {row.findings.map((f) => (
            <div key={f.check} className="t-small">
              {f.message}
            </div>
          ))}
          {row.findings.length === 0 && <span className="muted t-small">No finding is open.</span>}
        </div>
      </div>
    </>
  );
}
