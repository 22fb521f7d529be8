import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import { PROFILES } from "~core/checks/checkFacts";
import type { JointReading } from "~core/measure/measureJoint";
import type { SweepRow } from "~core/measure/sweepMotion";
import { worstRow } from "../../session/motionScore";
import { angleAlong, poseMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { CurveChart, type Curve } from "../../ui/CurveChart";
import { Segmented } from "../../ui/Segmented";
import { useQueryState } from "../../ui/useQueryState";
import { LimbOverview } from "./LimbOverview";

const { limits } = PROFILES.realtime;

const MEASURES = ["volume", "overlap", "stretch", "faces", "crease", "bone", "roughness"] as const;
type Measure = (typeof MEASURES)[number];
const MEASURE = {
  volume: { unit: "%", limit: -10, of: (r: { volume: number }) => 100 * r.volume, title: "Volume" },
  overlap: { unit: "mm", limit: 5, of: (r: { depth: number }) => r.depth, title: "Overlap" },
  stretch: { unit: "×", limit: 2, of: (r: { stretch: number }) => r.stretch, title: "Stretch" },
  faces: { title: "Turned faces", unit: "faces", limit: 0, of: (r: { flips: number }) => r.flips },
  crease: { title: "Crease", unit: "°", limit: limits["pose.crease"] ?? 90, of: (r: JointReading) => r.crease ?? 0 },
  bone: { title: "Off the bone", unit: "mm", limit: limits["pose.bone"] ?? 20, of: (r: JointReading) => r.bone ?? 0 },
  roughness: {
    title: "Roughness",
    unit: "mm",
    limit: limits["pose.roughness"] ?? 1,
    of: (r: JointReading) => r.roughness ?? 0,
  },
} as const;

function curvesOf(rows: readonly SweepRow[], measure: Measure): Curve[] {
  const points = (key: "without" | "with"): Curve["points"] =>
    rows.map((r) => ({ x: r.angle, y: MEASURE[measure].of(r[key]) }));
  const differs = rows.some((r) => MEASURE[measure].of(r.with) !== MEASURE[measure].of(r.without));
  return [
    { name: "without correctives", points: points("without"), tone: "plain" },
    ...(differs ? [{ name: "with correctives", points: points("with"), tone: "accent" as const }] : []),
  ];
}

/** Sweep of the open motion, without and with correctives; a click poses the stage. */
export function SweepEvidence(): ReactNode {
  const store = useSessionStore();
  const page = useCharacterPage();
  const [query] = useSearchParams();
  const loaded = useSession((s) => s.loaded);
  const pose = useSession((s) => s.pose);
  const method = useSession((s) => s.method);
  const motion = loaded?.motions.find((m) => m.id === query.get("open"));
  const trial = page.trials.find((t) => t.motion === motion?.id && t.method === method);
  const worst = trial && worstRow(trial.rows, "with");
  const [chosen, setMeasure] = useQueryState<Measure | "worst">("measure", "worst", ["worst", ...MEASURES]);
  const measure = chosen === "worst" ? (worst?.excess.measure ?? "volume") : chosen;
  const m = MEASURE[measure];
  const curves = trial ? curvesOf(trial.rows, measure) : [];
  if (!motion) return <LimbOverview />;
  return (
    <>
      <div className="spread rigid">
        <div className="grow over-hidden">
          <h2>
            {m.title}, {motion.label}
          </h2>
          <div className="muted t-12 nowrap">
            limit {m.limit} {m.unit} · <span className="ink-brick">without</span>
            {curves.length > 1 && (
              <>
                , <span className="ink-accent">with correctives</span>
              </>
            )}
          </div>
        </div>
        <Segmented
          label="Measure"
          options={MEASURES}
          value={measure}
          onChange={setMeasure}
          names={{ bone: "off bone", roughness: "rough" }}
        />
      </div>
      <div className="plot" title="Click to pose">
        {trial && trial.rows.length === 0 ? (
          <p className="muted">This joint holds no skin: nothing bends.</p>
        ) : trial ? (
          <CurveChart
            label={`${m.title} against angle, ${motion.label}`}
            xUnit="°"
            yUnit={m.unit}
            curves={curves}
            limit={m.limit}
            at={angleAlong(motion, pose)}
            onPick={(x) => poseMotion(store, motion, Math.round(x))}
          />
        ) : (
          <p className="muted">Not swept in this state yet. Use Sweep in the row.</p>
        )}
      </div>
    </>
  );
}
