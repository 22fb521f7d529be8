import type { ReactNode } from "react";
import { stationWord } from "../stationWord";
import { useCharacterPage } from "../../session/useDesk";

/** Findings counted by station and severity: where the work is. */
export function DeliveryEvidence(): ReactNode {
  const { findings, accepted, character } = useCharacterPage();
  const stations = ["Intake", "Skeleton", "Shapes"];
  const count = (station: string, severity: string): number =>
    findings.filter((f) => stationWord(f.check) === station && f.severity === severity).length;
  return (
    <>
      <h2>Where the findings are</h2>
      <div className="over-auto">
        <table className="plain max-w-560">
          <thead>
            <tr>
              <th>Station</th>
              <th className="to-right">Errors</th>
              <th className="to-right">Warnings</th>
              <th className="to-right">Notes</th>
            </tr>
          </thead>
          <tbody>
            {stations.map((s) => (
              <tr key={s}>
                <td>{s}</td>
                {["error", "warn", "note"].map((v) => (
                  <td key={v} className="num">
                    {count(s, v)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <p className="muted m-6-4">
          {character.summary.triangles.toLocaleString("en")} triangles · {character.summary.joints} joints ·{" "}
          {character.summary.shapes} shapes · {accepted.length} accepted
        </p>
      </div>
    </>
  );
}
