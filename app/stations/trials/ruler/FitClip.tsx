import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useEffect, useState, type ReactNode } from "react";
import type { Clip } from "~core/model/character";
import { NO_FITTING, TRAVELS, type Fitting } from "~core/model/fitting";
import type { ClipReading } from "~jobs/operations/fitClip";
import { askJob } from "../../../session/jobs/pageJobs";
import { useSession, useSessionStore } from "../../../session/session";
import { setTried } from "../../../session/slices/trial";
import { useDesk } from "../../../session/useDesk";
import { LimitBar } from "../../../ui/LimitBar";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";
import { SaveClip } from "./SaveClip";

type Amount = "arms" | "collars" | "chin" | "stride" | "feet" | "heels" | "hips";
/** What can be set by hand, with its unit and range. */
const AMOUNTS: readonly (readonly [Amount, label: string, unit: string, min: number, max: number])[] = [
  ["arms", "arms away", "°", -40, 60],
  ["collars", "collar bones", "°", -20, 30],
  ["chin", "chin", "°", -40, 40],
  ["stride", "feet apart", " mm", -200, 300],
  ["feet", "feet turned out", "°", -40, 40],
  ["heels", "heels raised", "°", -30, 60],
  ["hips", "hips", " mm", -300, 150],
];
const SWITCHES = [
  ["ground", "soles on the floor"],
  ["hold", "feet stay"],
  ["hands", "resting hands stay"],
  ["mirror", "left and right exchanged"],
] as const;

const same = (a: Fitting | null, b: Fitting | null): boolean => JSON.stringify(a) === JSON.stringify(b);

/** How a clip is fitted to the figure: what is set by hand, how it stands then, and keeping it. */
export function FitClip({ clip }: { clip: Clip }): ReactNode {
  const { addStep } = useDesk();
  const kept = clip.fit?.fitting ?? null;
  const [fitting, setFitting] = useState<Fitting | null>(kept);
  const [busy, setBusy] = useState(false);
  // what is kept may change under an open row: undo, another window
  const [was, setWas] = useState(kept);
  if (!same(was, kept)) {
    setWas(kept);
    setFitting(kept);
  }
  const reading = useFitReading(clip, fitting, kept);
  const now = fitting ?? { ...NO_FITTING, ground: false };
  const set = (change: Partial<Fitting>): void => setFitting({ ...now, ...change });
  const keep = async (to: Fitting | null): Promise<void> => {
    setBusy(true);
    await addStep({ op: "fit clip", clip: clip.name, fitting: to });
    setBusy(false);
  };
  return (
    <div className="row-body">
      <FitAmounts clip={clip} now={now} onSet={set} />
      <FitSwitches now={now} loop={reading?.loop ?? null} onSet={set} />
      <div className="line t-small">
        <span className="muted">travel</span>
        <Segmented label="Travel" options={TRAVELS} value={now.travel} onChange={(travel) => set({ travel })} />
      </div>
      <div className="line t-small fit-readings" role="status" aria-label={`How ${clip.name} stands`}>
        {reading ? <Readings of={reading} /> : <span className="muted">Reading how it stands</span>}
      </div>
      <div className="line">
        <Button
          variant="contained"
          disabled={busy || same(fitting, kept)}
          onClick={() => void keep(fitting)}
          title="Keeps it with the clip, as a step that can be undone">
          {busy ? "Keeping" : "Keep the fit"}
        </Button>
        <Button disabled={busy || same(fitting, kept)} onClick={() => setFitting(kept)}>
          As kept
        </Button>
        {kept && (
          <Button disabled={busy} onClick={() => void keep(null)}>
            As it came
          </Button>
        )}
        <span className="take-rest" />
        <SaveClip clip={clip} />
        <Button disabled={busy} onClick={() => void addStep({ op: "remove clips", names: [clip.name] })}>
          Remove
        </Button>
      </div>
    </div>
  );
}

/** How the clip stands as it is fitted now, which is also what the stage plays. */
function useFitReading(clip: Clip, fitting: Fitting | null, kept: Fitting | null): ClipReading | null {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const [reading, setReading] = useState<ClipReading | null>(null);
  useEffect(() => {
    let here = true;
    if (!loaded) return undefined;
    void askJob(loaded, "fit clip", { clip: clip.name, fitting })
      .then((r) => {
        if (!here) return;
        setReading(r);
        setTried(store, same(fitting, kept) ? null : r.clip);
      })
      .catch(() => {}); // a newer one was asked for, or the character changed: the next answer counts
    return () => {
      here = false;
    };
  }, [store, loaded, clip.name, fitting, kept]);
  useEffect(() => () => setTried(store, null), [store]);
  return reading;
}

interface FitAmountsProps {
  readonly clip: Clip;
  readonly now: Fitting;
  readonly onSet: (change: Partial<Fitting>) => void;
}
function FitAmounts({ clip, now, onSet }: FitAmountsProps): ReactNode {
  return (
    <div className="fit-grid" role="group" aria-label={`Fit ${clip.name}`}>
      {AMOUNTS.map(([key, label, unit, min, max]) => (
        <label key={key} className="spread">
          <span className="muted">{label}</span>
          <ScrubField
            label={`${label}, ${clip.name}`}
            value={now[key]}
            min={min}
            max={max}
            step={unit === "°" ? 0.5 : 1}
            digits={0}
            unit={unit}
            onChange={(v) => onSet({ [key]: v })}
          />
        </label>
      ))}
      <label className="spread">
        <span className="muted">speed</span>
        <ScrubField
          label={`speed, ${clip.name}`}
          value={now.speed}
          min={0.25}
          max={4}
          step={0.01}
          start={1}
          unit="×"
          onChange={(speed) => onSet({ speed })}
        />
      </label>
    </div>
  );
}

interface FitSwitchesProps {
  readonly now: Fitting;
  /** Where the clip's ends meet; null where they do not. */
  readonly loop: ClipReading["loop"];
  readonly onSet: (change: Partial<Fitting>) => void;
}
function FitSwitches({ now, loop, onSet }: FitSwitchesProps): ReactNode {
  return (
    <div className="line t-small">
      {SWITCHES.map(([key, label]) => (
        <FormControlLabel
          key={key}
          control={
            <Checkbox size="small" checked={Boolean(now[key])} onChange={(e) => onSet({ [key]: e.target.checked })} />
          }
          label={label}
        />
      ))}
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            disabled={!loop && !now.loop}
            checked={now.loop !== null}
            onChange={(e) => onSet({ loop: e.target.checked && loop ? { from: loop.from, to: loop.to } : null })}
          />
        }
        label={loop ? `closed at ${loop.to.toFixed(2)} s` : "closed (its ends do not meet)"}
      />
    </div>
  );
}

function Readings({ of: { feet, arms, hands, seam } }: { readonly of: ClipReading }): ReactNode {
  return (
    <>
      {feet && (
        <>
          <Reading label={feet.onTheSpot ? "slide, on the spot" : "slide"}>
            <LimitBar value={feet.slide} limit={0.1} text={`${feet.slide.toFixed(2)} m/s`} width={46} />
          </Reading>
          <Reading label="sole under floor">
            <LimitBar value={1000 * feet.under} limit={10} text={`${(1000 * feet.under).toFixed(0)} mm`} width={46} />
          </Reading>
        </>
      )}
      {arms !== null && (
        <Reading label={arms < 0 ? "forearm in body" : "forearm off body"}>
          <LimitBar
            value={Math.max(0, -arms)}
            limit={5}
            text={`${Math.abs(arms).toFixed(0)} mm`}
            width={46}
            verdict={arms < -5 ? "warn" : "fine"}
          />
        </Reading>
      )}
      {hands && hands.resting > 0 && (
        <Reading label="resting hand drifts">
          <LimitBar value={1000 * hands.drift} limit={10} text={`${(1000 * hands.drift).toFixed(0)} mm`} width={46} />
        </Reading>
      )}
      {seam && (
        <Reading label="seam">
          <LimitBar value={seam.degrees} limit={2} text={`${seam.degrees.toFixed(1)}°`} width={46} />
        </Reading>
      )}
    </>
  );
}

const Reading = ({ label, children }: { label: string; children: ReactNode }): ReactNode => (
  <span className="line one-row gap-4 nowrap">
    <span className="muted">{label}</span>
    {children}
  </span>
);
