import type { ReactNode } from "react";
import { PROFILES } from "~core/checks/checkFacts";
import { useSession } from "../../session/session";
import { LimitBar, type Verdict } from "../../ui/LimitBar";

const { limits } = PROFILES.realtime;

/** Volume, overlap, stretch, turned faces and looks of the chosen joint in the present pose. */
export function JointReadings(): ReactNode {
  const joint = useSession((s) => s.joint);
  const measured = useSession((s) => s.measured);
  if (!joint) return null;
  if (!measured || measured.joint !== joint)
    return <p className="muted m-0">Measuring, or no part is bent by this joint.</p>;
  const r = measured.reading;
  const warn = 100 * (limits["pose.volume.warn"] ?? -0.1);
  const error = 100 * (limits["pose.volume.error"] ?? -0.2);
  const loss = 100 * r.volume;
  const verdict: Verdict = loss < error ? "error" : loss < warn ? "warn" : "fine";
  return (
    <div className="stack gap-5" aria-label="Readings at this pose" role="group">
      <LimitBar
        value={Math.min(0, loss)}
        limit={warn}
        verdict={verdict}
        text={`volume ${loss > 0.05 ? "+" : ""}${loss.toFixed(1)} %`}
      />
      <LimitBar value={r.depth} limit={limits["pose.penetration"]} text={`overlap ${r.depth.toFixed(1)} mm`} />
      <LimitBar value={r.stretch} limit={limits["pose.stretch"]} end={3} text={`stretch ${r.stretch.toFixed(2)} ×`} />
      <LimitBar value={r.flips} limit={0} end={30} text={`turned faces ${r.flips}`} />
      {r.crease !== undefined && (
        <LimitBar
          value={r.crease}
          limit={limits["pose.crease"]}
          end={150}
          text={`sharpest crease ${r.crease.toFixed(0)}°`}
        />
      )}
      {!!r.bone && (
        <LimitBar value={r.bone} limit={limits["pose.bone"]} text={`skin off the bone ${r.bone.toFixed(1)} mm`} />
      )}
    </div>
  );
}
