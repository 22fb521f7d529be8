import type { ReactNode } from "react";
import { vertexCountOf, type Character } from "~core/model/character";
import { imageCount } from "~core/model/materialLook";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { stationWord } from "../stationWord";
import { Counts } from "../../ui/Counts";

const STATIONS = ["Intake", "Skeleton", "Shapes"] as const;
const SEVERITIES = ["error", "warn", "note"] as const;

/** Findings counted by station and severity, where the work is; beside them what the character is made of. */
export function DeliveryEvidence(): ReactNode {
  const { findings, accepted, character } = useCharacterPage();
  const loaded = useSession((s) => s.loaded);
  const count = (station: string, severity: string): number =>
    findings.filter((f) => stationWord(f.check) === station && f.severity === severity).length;
  const { triangles, joints, shapes } = character.summary;
  const made: readonly (readonly [string, number])[] = [
    ...(loaded ? partsOf(loaded.character) : []),
    ["triangles", triangles],
    ["joints", joints],
    ["shapes", shapes],
    ["findings accepted", accepted.length],
  ];
  return (
    <div className="two evidence-two over-y-auto">
      <section>
        <h2>Where the findings are</h2>
        <table className="plain">
          <thead>
            <tr>
              <th>Station</th>
              <th className="to-right">Errors</th>
              <th className="to-right">Warnings</th>
              <th className="to-right">Notes</th>
            </tr>
          </thead>
          <tbody>
            {STATIONS.map((s) => (
              <tr key={s}>
                <td>{s}</td>
                {SEVERITIES.map((v) => (
                  <td key={v} className="num">
                    {count(s, v)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2>What it is made of</h2>
        <Counts of={made} />
      </section>
    </div>
  );
}

const partsOf = ({ parts, materials, clips }: Character): (readonly [string, number])[] => [
  ["parts", parts.length],
  ["vertices", parts.reduce((n, p) => n + vertexCountOf(p), 0)],
  ["materials", materials.length],
  ["images", imageCount(materials)],
  ["clips", clips.length],
];
