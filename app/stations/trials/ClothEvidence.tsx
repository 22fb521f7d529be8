import type { ReactNode } from "react";
import type { Part } from "~core/model/character";
import { useSession } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { CLOTH_LIMIT, clothRows } from "./clothRows";

/** Garment by garment: in how many motions skin comes through, and the worst of them. */
export function ClothEvidence(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  // a pose is chosen from the rows: they are there by then
  useSession((s) => s.pose);
  const rows = clothRows(loaded, method);
  const garments = loaded?.character.parts.filter((p) => p.kind === "garment") ?? [];
  if (garments.length === 0) return <p className="muted">There are no garments.</p>;
  return (
    <div className="over-auto">
      <table className="plain">
        <thead>
          <tr>
            <th>Garment</th>
            <th className="to-right">Motions over {CLOTH_LIMIT} mm</th>
            <th>Worst</th>
            <th>In</th>
          </tr>
        </thead>
        <tbody>
          {garments.map((g) => {
            if (!rows) return <Unread key={g.name} garment={g} />;
            const own = rows.filter((r) => r.garment === g.name);
            return (
              <tr key={g.name}>
                <td>{g.name}</td>
                <td className="num">{own.filter((r) => r.depthMm > CLOTH_LIMIT).length}</td>
                <td>
                  <LimitBar
                    value={own[0]?.depthMm ?? 0}
                    limit={CLOTH_LIMIT}
                    text={`${(own[0]?.depthMm ?? 0).toFixed(1)} mm`}
                  />
                </td>
                <td>{own[0] ? `${own[0].label}, ${Math.round(own[0].angle)}°` : "holds"}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** A garment before the motions were walked through. */
const Unread = ({ garment }: { garment: Part }): ReactNode => (
  <tr>
    <td>{garment.name}</td>
    <td className="num">not read</td>
    <td />
    <td className="muted">walk through the motions</td>
  </tr>
);
