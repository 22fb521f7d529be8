import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useEffect, useState, type ReactNode } from "react";
import { clipSeconds } from "~core/clips/motion";
import type { Clip } from "~core/model/character";
import { clipPiece, endOf, laneOfClip, trialSeconds, type Trial } from "~core/trials/trial";
import { NO_FITTING, TRAVELS, type Fitting } from "~core/model/fitting";
import type { ClipReading } from "~jobs/operations/fitClip";
import { askJob } from "../../../session/jobs/pageJobs";
import { useSession, useSessionStore } from "../../../session/session";
import { addPiece, setTried } from "../../../session/slices/trial";
import { useDesk } from "../../../session/useDesk";
import { counted } from "../../../ui/counted";
import { LimitBar } from "../../../ui/LimitBar";
import { saveFile } from "../../../ui/saveFile";
import { ScrubField } from "../../../ui/ScrubField";
import { Segmented } from "../../../ui/Segmented";

type Amount = "arms" | "collars" | "chin" | "stride" | "feet" | "heels" | "hips";
/** What can be set by hand, with its range and the reading that it mends. */
const AMOUNTS: readonly (readonly [Amount, string, string, number, number, "arms" | "feet" | null])[] = [
  ["arms", "arms away", "°", -40, 60, "arms"],
  ["collars", "collar bones", "°", -20, 30, "arms"],
  ["chin", "chin", "°", -40, 40, null],
  ["stride", "feet apart", " mm", -200, 300, "feet"],
  ["feet", "feet turned out", "°", -40, 40, "feet"],
  ["heels", "heels raised", "°", -30, 60, "feet"],
  ["hips", "hips", " mm", -300, 150, "feet"],
];

/** One clip of the character: its length and how it stands; open, how it is fitted to the figure. */
export function ClipRow({ clip, open, onOpen }: { clip: Clip; open: boolean; onOpen: () => void }): ReactNode {
  const store = useSessionStore();
  const seconds = clipSeconds(clip);
  const add = (): void => {
    const { trial } = store.getState();
    if (trial)
      addPiece(store, laneOfClip(clip), clipPiece(clip.name, seconds, startOf(clip, trial), crypto.randomUUID()));
  };
  return (
    <div className={`row${open ? " open" : ""}`}>
      <div className="row-line">
        <button
          type="button"
          className="plain take-rest nowrap over-hidden ellipsis"
          aria-expanded={open}
          onClick={onOpen}>
          {clip.name}
          {clip.fit && <span className="muted"> · fitted</span>}
        </button>
        <span className="mono muted nowrap">{seconds.toFixed(2)} s</span>
        <Button
          title={clip.tracks.length ? "Puts it at the end of the body lane" : "Puts it at the end of the face lane"}
          onClick={add}>
          Onto the ruler
        </Button>
      </div>
      {open && (clip.tracks.length ? <Fit clip={clip} /> : <FaceOnly clip={clip} />)}
    </div>
  );
}

/** What moves the body goes on where the trial ends; a face goes over what plays. */
const startOf = (clip: Clip, trial: Trial): number =>
  clip.tracks.length ? trialSeconds(trial) : trial.lanes.face.reduce((end, p) => Math.max(end, endOf(p)), 0);

/** The clip alone as files: of joints as BVH and GLB, of shapes' weights as a table. */
function SaveAs({ clip }: { clip: Clip }): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const save = async (kind: "bvh" | "glb" | "csv"): Promise<void> => {
    const made = await askJob(loaded!, "clip file", { clip: clip.name, kind });
    saveFile(`${clip.name}.${kind}`, new Blob([made as BlobPart]));
  };
  const kinds = [...(clip.tracks.length ? (["bvh", "glb"] as const) : []), ...(clip.weights ? (["csv"] as const) : [])];
  return (
    <>
      {kinds.map((kind) => (
        <Button
          key={kind}
          disabled={!loaded}
          title={kind === "csv" ? "Weights of its shapes over time" : "The clip alone, on this skeleton, as it is kept"}
          onClick={() => void save(kind)}>
          {kind.toUpperCase()}
        </Button>
      ))}
    </>
  );
}

/** A clip that moves shapes alone: there is nothing to fit. */
function FaceOnly({ clip }: { clip: Clip }): ReactNode {
  const { addStep } = useDesk();
  const moved = clip.weights ?? [];
  return (
    <div className="row-body t-small">
      <p>
        Moves {counted(moved.length, "shapes")} and no joint:{" "}
        {moved
          .slice(0, 6)
          .map((w) => w.shape)
          .join(", ")}
        {moved.length > 6 ? " and others" : ""}.
      </p>
      <SaveAs clip={clip} />
      <Button onClick={() => void addStep({ op: "remove clips", names: [clip.name] })}>Remove</Button>
    </div>
  );
}

const same = (a: Fitting | null, b: Fitting | null): boolean => JSON.stringify(a) === JSON.stringify(b);

const NOTHING_READ: Omit<ClipReading, "clip"> = { feet: null, arms: null, hands: null, loop: null, seam: null };

function Fit({ clip }: { clip: Clip }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const { addStep } = useDesk();
  const kept = clip.fit?.fitting ?? null;
  const [fitting, setFitting] = useState<Fitting | null>(kept);
  const [reading, setReading] = useState<ClipReading | null>(null);
  const [busy, setBusy] = useState(false);
  // what is kept may change under an open row: undo, another window
  const [was, setWas] = useState(kept);
  if (!same(was, kept)) {
    setWas(kept);
    setFitting(kept);
  }
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
  const now = fitting ?? { ...NO_FITTING, ground: false };
  const set = (change: Partial<Fitting>): void => setFitting({ ...now, ...change });
  const keep = async (to: Fitting | null): Promise<void> => {
    setBusy(true);
    await addStep({ op: "fit clip", clip: clip.name, fitting: to });
    setBusy(false);
  };
  const { feet, arms, hands, loop, seam } = reading ?? NOTHING_READ;
  return (
    <div className="row-body">
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
              onChange={(v) => set({ [key]: v })}
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
            onChange={(speed) => set({ speed })}
          />
        </label>
      </div>
      <div className="line t-small">
        {(
          [
            ["ground", "soles on the floor"],
            ["hold", "feet stay"],
            ["hands", "resting hands stay"],
            ["mirror", "left and right exchanged"],
          ] as const
        ).map(([key, label]) => (
          <FormControlLabel
            key={key}
            control={
              <Checkbox size="small" checked={Boolean(now[key])} onChange={(e) => set({ [key]: e.target.checked })} />
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
              onChange={(e) => set({ loop: e.target.checked && loop ? { from: loop.from, to: loop.to } : null })}
            />
          }
          label={loop ? `closed at ${loop.to.toFixed(2)} s` : "closed (its ends do not meet)"}
        />
      </div>
      <div className="line t-small">
        <span className="muted">travel</span>
        <Segmented label="Travel" options={TRAVELS} value={now.travel} onChange={(travel) => set({ travel })} />
      </div>
      <div className="line t-small fit-readings" role="status" aria-label={`How ${clip.name} stands`}>
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
        {!reading && <span className="muted">Reading how it stands</span>}
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
        <SaveAs clip={clip} />
        <Button disabled={busy} onClick={() => void addStep({ op: "remove clips", names: [clip.name] })}>
          Remove
        </Button>
      </div>
    </div>
  );
}

const Reading = ({ label, children }: { label: string; children: ReactNode }): ReactNode => (
  <span className="line one-row gap-4 nowrap">
    <span className="muted">{label}</span>
    {children}
  </span>
);
