import type { ReactNode } from "react";
import { valueAt } from "~core/trials/keyCurve";
import type { Curve } from "~core/trials/trial";
import { CurveChart } from "../../../ui/CurveChart";

const UNITS = { degrees: "°", metres: "m", weight: "" } as const;
const NAMES = { degrees: ["x", "y", "z"], metres: ["left", "up", "ahead"], weight: ["weight"] } as const;
/** Places at which a curve is drawn. */
const SAMPLES = 120;

/** A curve through its keys, as chart and table; a click or a row goes there. */
export function KeyCurve({
  curve,
  kind,
  at,
  onGo,
}: {
  curve: Curve;
  kind: keyof typeof UNITS;
  at: number;
  onGo: (seconds: number) => void;
}): ReactNode {
  const names = NAMES[kind];
  const width = names.length;
  const [first, last] = [curve.times[0]!, curve.times[curve.times.length - 1]!];
  const span = Math.max(0.1, last - first);
  const times = Array.from({ length: SAMPLES + 1 }, (_, i) => first + (span * i) / SAMPLES);
  const read = times.map((t) => valueAt(curve, width, t));
  return (
    <>
      <div className="key-chart">
        <CurveChart
          label="Values against time"
          xUnit=" s"
          yUnit={UNITS[kind]}
          limit={null}
          at={at}
          onPick={onGo}
          curves={names.map((name, i) => ({
            name,
            tone: i === 0 ? "accent" : "plain",
            points: times.map((x, k) => ({ x, y: read[k]![i]! })),
          }))}
        />
      </div>
      <table className="plain t-small" aria-label="Keys">
        <thead>
          <tr>
            <th>at, s</th>
            {names.map((n) => (
              <th key={n}>
                {n}
                {UNITS[kind] ? `, ${UNITS[kind]}` : ""}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {curve.times.map((t, k) => (
            <tr key={t}>
              <td>
                <button type="button" className="plain mono" onClick={() => onGo(t)}>
                  {t.toFixed(2)}
                </button>
              </td>
              {names.map((n, i) => (
                <td key={n} className="mono">
                  {curve.values[k * width + i]!.toFixed(kind === "degrees" ? 1 : 3)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
