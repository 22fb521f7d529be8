import type { ReactNode } from "react";
import { vertexCountOf } from "~core/model/character";
import { useSession } from "../../session/session";
import { HeldOverview } from "./HeldOverview";
import { JointReadings } from "../correctives/JointReadings";

/** What the chosen joint holds, and what its pose does. */
export function JointEvidence(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const joint = useSession((s) => s.joint);
  const j = loaded?.character.skeleton?.joints.findIndex((x) => x.name === joint) ?? -1;
  if (!loaded || !loaded.character.skeleton) return <p className="muted">Open a joint to see what it holds.</p>;
  if (j < 0) return <HeldOverview loaded={loaded} />;
  const rows = loaded.character.parts.flatMap((part) => {
    if (!part.skin) return [];
    let count = 0;
    let whole = 0;
    for (let n = 0; n < part.skin.weights.length; n++)
      if (part.skin.joints[n] === j && part.skin.weights[n]! > 0) {
        count++;
        if (part.skin.weights[n]! > 0.999) whole++;
      }
    return count ? [{ part: part.name, count, whole, all: vertexCountOf(part) }] : [];
  });
  return (
    <>
      <h2>
        Held by <span className="mono">{joint}</span>
      </h2>
      <div className="two over-auto">
        <table className="plain">
          <thead>
            <tr>
              <th>Part</th>
              <th className="to-right">Vertices</th>
              <th className="to-right">Wholly</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.part}>
                <td>{r.part}</td>
                <td className="num">
                  {r.count} of {r.all}
                </td>
                <td className="num">{r.whole}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <div>
          <p className="label">In this pose</p>
          <JointReadings />
        </div>
      </div>
    </>
  );
}
