import type { ReactNode } from "react";
import { filterOf, type Steady } from "~core/tracking/steadyFace";
import { MOST_LAG_MS, MOST_NOISE } from "~core/tracking/faceReadings";
import { useSession, useSessionStore } from "../../../session/session";
import { changeFaceSettings } from "../../../session/slices/tracking";
import { LimitBar } from "../../../ui/LimitBar";
import { ScrubChange } from "../../../ui/ScrubChange";
import type { FaceInHand } from "./faceInHand";

const SLIDERS = [
  ["steady", "steady", "how much a held face is kept from shaking"],
  ["quick", "quick", "how soon quick movements are let through"],
] as const;

/** The filter's two sliders, with what they do in numbers. */
export function SteadyPanel({
  face,
  onSet,
}: {
  face: FaceInHand;
  /** For a take on the ruler: it is steadied anew. */
  onSet?: (steady: Steady) => void;
}): ReactNode {
  const store = useSessionStore();
  const readings = useSession((s) => s.faceReadings);
  const { steady } = face.settings;
  const { minCutoff } = filterOf(steady);
  const set = (change: Partial<Steady>, same: boolean): void => {
    const next = { ...steady, ...change };
    if (!onSet) changeFaceSettings(store, { steady: next }, same);
    else if (!same) onSet(next);
  };
  return (
    <div className={onSet ? "" : "p-4-18-12"} role="group" aria-label="Steadying">
      {!onSet && <h2 className="group-title bare-title">Steadying</h2>}
      <div className="fit-grid">
        {SLIDERS.map(([key, label, title]) => (
          <label key={key} className="spread" title={title}>
            <span className="muted">{label}</span>
            <ScrubChange
              label={label}
              value={steady[key]}
              min={0}
              max={1}
              step={0.01}
              start={0.5}
              onSet={(v, same) => set({ [key]: v }, same)}
            />
          </label>
        ))}
      </div>
      {readings && (
        <div className="line t-small">
          <span className="nowrap">noise held</span>
          <LimitBar
            value={readings.steadyNoise}
            limit={MOST_NOISE}
            text={`${readings.steadyNoise.toFixed(3)}, was ${readings.noise.toFixed(3)}`}
            width={54}
          />
          <span className="nowrap">late by</span>
          {readings.lagMs === null ? (
            <span className="muted nowrap">nothing moves</span>
          ) : (
            <LimitBar value={readings.lagMs} limit={MOST_LAG_MS} text={`${Math.round(readings.lagMs)} ms`} width={54} />
          )}
          <span className="muted nowrap" title="Cutoff of the One Euro filter while nothing moves">
            from {minCutoff.toFixed(1)} Hz
          </span>
        </div>
      )}
    </div>
  );
}
