import { useMemo, type ReactNode } from "react";
import { worstRow } from "../../session/motionScore";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { LimitBar } from "../../ui/LimitBar";
import { LIMBS, limbOf, shortLabel } from "./limbs";

/** Directions counted by limb with the worst that was swept, the worst limb first; for when none is open. */
export function LimbOverview(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const { trials } = useCharacterPage();
  const limbs = useMemo(() => {
    if (!loaded) return [];
    const swept = new Map(trials.filter((t) => t.method === method).map((t) => [t.motion, t.rows]));
    return LIMBS.map((limb) => {
      const motions = loaded.motions.filter((m) => limbOf(m) === limb);
      const read = motions.flatMap((motion) => {
        const rows = swept.get(motion.id);
        return rows ? [{ motion, worst: worstRow(rows, "with") }] : [];
      });
      const worst = read.reduce<(typeof read)[number] | null>(
        (most, r) => ((r.worst?.excess.times ?? 0) > (most?.worst?.excess.times ?? 0) ? r : most),
        null,
      );
      return {
        limb,
        count: motions.length,
        read: read.length,
        over: read.filter((r) => (r.worst?.excess.times ?? 0) > 1).length,
        worst,
        times: worst?.worst?.excess.times ?? 0,
      };
    })
      .filter((l) => l.count > 0)
      .sort((a, b) => b.times - a.times);
  }, [loaded, trials, method]);
  if (limbs.length === 0) return <p className="muted">Open a joint&apos;s row to see its sweep here.</p>;
  return (
    <>
      <h2>By limb, swept in this state</h2>
      <div className="over-y-auto">
        <table className="plain">
          <thead>
            <tr>
              <th>Limb</th>
              <th className="to-right">Swept</th>
              <th className="to-right">Over</th>
              <th>Worst</th>
              <th>At</th>
            </tr>
          </thead>
          <tbody>
            {limbs.map(({ limb, count, read, over, worst, times }) => (
              <tr key={limb}>
                <td className="nowrap">{limb}</td>
                <td className="num">
                  {read} of {count}
                </td>
                <td className="num">{read ? over : ""}</td>
                <td>
                  {worst?.worst && (
                    <LimitBar value={times} limit={1} end={2} width={40} text={worst.worst.excess.text} />
                  )}
                </td>
                <td className="nowrap">
                  {worst?.worst && shortLabel(worst.motion)}
                  {worst?.worst && <div className="muted">{Math.round(worst.worst.row.angle)}°</div>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
