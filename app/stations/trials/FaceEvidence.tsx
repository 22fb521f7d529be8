import { useEffect, useState, type ReactNode } from "react";
import { FACE_MEASURES, type FaceReading } from "~core/measure/faceGauge";
import { askJob } from "../../session/jobs/pageJobs";
import { useSession, type Loaded } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { FACE_MEASURE_WORDS } from "./faceMeasures";

const MOST = 4;

type Weights = Readonly<Record<string, number>>;
const namesOf = (loaded: Loaded | null, weights: Weights): string[] =>
  Object.keys(weights).filter((n) => weights[n] !== 0 && loaded?.character.shapes.some((s) => s.name === n));
const keyOf = (loaded: Loaded | null, weights: Weights): string =>
  `${loaded?.state ?? ""} ${JSON.stringify(namesOf(loaded, weights).map((n) => [n, weights[n]]))}`;

/** The mix on the stage in numbers: every measure of the face together, and for each shape alone. */
export function FaceEvidence(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const weights = useSession((s) => s.weights);
  const [held, setHeld] = useState<{ key: string; readings: readonly FaceReading[] } | null>(null);
  const names = namesOf(loaded, weights);
  const key = keyOf(loaded, weights);
  useEffect(() => {
    const own = namesOf(loaded, weights);
    if (!loaded || loaded.character.shapes.length === 0) return;
    let gone = false;
    const mixes = [
      Object.fromEntries(own.map((n) => [n, weights[n]!])),
      ...own.slice(0, MOST).map((n) => ({ [n]: weights[n]! })),
    ];
    const late = setTimeout(() => {
      askJob(loaded, "faces", { mixes }).then(
        (readings) => !gone && setHeld({ key: keyOf(loaded, weights), readings }),
        () => !gone && setHeld(null),
      );
    }, 120);
    return () => {
      gone = true;
      clearTimeout(late);
    };
  }, [loaded, weights]);
  if (loaded?.character.shapes.length === 0) return <p className="muted">There are no shapes to read.</p>;
  const readings = held?.key === key ? held.readings : null;
  const shown = names.slice(0, MOST);
  return (
    <div className="over-auto">
      <table className="plain">
        <thead>
          <tr>
            <th>{names.length ? "Face at these weights" : "Face at rest; choose a pair or a mix"}</th>
            <th>{names.length ? "Together" : "Reading"}</th>
            {shown.map((n) => (
              <th key={n} className="mono to-right">
                {n} {weights[n]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {FACE_MEASURES.map((m) => {
            const w = FACE_MEASURE_WORDS[m];
            return (
              <tr key={m}>
                <td>{w.name}</td>
                <td>
                  {readings ? (
                    <LimitBar
                      value={readings[0]![m]}
                      limit={w.limit}
                      text={w.text(readings[0]![m])}
                      verdict={readings[0]![m] > w.limit ? (m === "stretch" ? "warn" : "error") : undefined}
                    />
                  ) : (
                    <span className="muted">reading</span>
                  )}
                </td>
                {shown.map((n, i) => (
                  <td key={n} className="num">
                    {readings?.[i + 1] ? w.text(readings[i + 1]![m]) : ""}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
