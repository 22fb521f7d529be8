import { useMemo, type ReactNode } from "react";
import type { Loaded } from "../../session/session";
import { heldBy } from "./heldBy";
import { Counts } from "../../ui/Counts";

/** As many joints as the strip shows without being scrolled. */
const MOST = 8;

/** The joints that hold most, and how many there are of which kind; for when none is open. */
export function HeldOverview({ loaded }: { loaded: Loaded }): ReactNode {
  const { character, humanoid } = loaded;
  const held = useMemo(() => heldBy(character), [character]);
  const sharing = new Set((character.twistJoints ?? []).map((t) => t.joint));
  const counts: readonly (readonly [string, number])[] = [
    ["joints", held.length],
    ["mapped to bones", humanoid?.jointOfBone.size ?? 0],
    ["that share a twist", sharing.size],
    ["that hold no vertex", held.filter((h) => h.vertices === 0).length],
    ["parts bound", character.parts.filter((p) => p.skin).length],
    ["most influences", Math.max(0, ...character.parts.map((p) => p.skin?.influenceCount ?? 0))],
  ];
  return (
    <div className="two evidence-two over-y-auto">
      <section>
        <h2>Joints that hold most</h2>
        <table className="plain">
          <thead>
            <tr>
              <th>Joint</th>
              <th className="to-right">Vertices</th>
              <th className="to-right">Wholly</th>
              <th className="to-right">Parts</th>
            </tr>
          </thead>
          <tbody>
            {held.slice(0, MOST).map((h) => (
              <tr key={h.joint}>
                <td className="mono">{h.joint}</td>
                <td className="num">{h.vertices.toLocaleString("en")}</td>
                <td className="num">{h.whole.toLocaleString("en")}</td>
                <td className="num" title={h.parts.join(", ")}>
                  {h.parts.length}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2>How many there are</h2>
        <Counts of={counts} />
      </section>
    </div>
  );
}
