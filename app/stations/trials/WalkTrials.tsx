import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import { useEffect, useState, type ReactNode } from "react";
import type { Finding } from "~core/checks/finding";
import { LISTED, SECONDS_A_MOTION, TORN_MM, walkAt, type WalkRow } from "~core/measure/walkThrough";
import { motionPose, type JointMotion } from "~core/skeleton/jointMotions";
import { useJob, type DeskJob } from "../../session/jobs/useJob";
import { withMotion } from "../../session/posing";
import { playerOf, type Player } from "../../session/playback";
import { useSession, useSessionStore, type Loaded, type Session } from "../../session/session";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { Segmented } from "../../ui/Segmented";
import { SheetHead } from "../../ui/SheetHead";
import { showMoment } from "../../session/slices/view";
import { Refused } from "../../ui/Refused";

const WALK = "the walk";
const SPEEDS = ["¼", "½", "1", "2"] as const;
const SPEED: Readonly<Record<(typeof SPEEDS)[number], number>> = { "¼": 0.25, "½": 0.5, "1": 1, "2": 2 };
const read = new WeakMap<Loaded, Map<string, readonly WalkRow[]>>();

/**
 * Every joint through its range, one after the other: played on the stage, and read for what tears on the way, worst
 * first.
 */
export function WalkTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const player = playerOf(store);
  const [find, setFind] = useState("");
  const motions = loaded?.motions ?? [];
  usePlayedWalk(player, loaded);
  // stray weights of a part are what tears it as a rule: their repair stands with its worst moment
  const stray = useCharacterPage().findings.filter((f) => f.check === "weights.stray");
  const { work, rows, measure } = useWalk(loaded, method);
  const pose = (r: WalkRow): void => {
    const motion = motions.find((m) => m.id === r.motion);
    player.pause();
    if (!motion) return;
    const along = motion.min === 0 || motion.max === 0 ? 0.5 : r.angle > 0 ? 0.25 : 0.75;
    player.seek(SECONDS_A_MOTION * (motions.indexOf(motion) + along));
    showMoment(store, {
      pose: withMotion({}, motion, r.angle),
      joint: r.joint,
      reading: "skin",
      place: { part: r.part, vertices: r.vertices, least: 0.3 },
    });
  };
  const shown = rows?.filter((r) => `${r.part} ${r.label}`.toLowerCase().includes(find.toLowerCase())) ?? [];
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {work.running ? (
          <Progress {...work.running} onCancel={work.cancel} />
        ) : (
          <>
            <FindField label="Find a part or motion" value={find} onChange={setFind} />
            <span className="muted nowrap">
              {rows
                ? `${rows.filter((r) => r.longerMm > TORN_MM).length} torn, ${counted(rows.length, "moments")} listed`
                : ""}
            </span>
            <Button
              variant={rows ? "text" : "contained"}
              disabled={motions.length === 0}
              onClick={() => void measure()}>
              {rows ? "Read again" : "Read the walk"}
            </Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        {motions.length === 0 ? (
          <p className="p-8-18">No joint has a known range: map the joints at the Skeleton station first.</p>
        ) : (
          <WalkBar motions={motions} />
        )}
        <Refused why={work.refusal} place="m-10-18" />
        {!rows && !work.running && motions.length > 0 && (
          <p className="p-0-18">
            Play it and watch, or have it read: an island on the wrong joint, a vertex that stays behind or an axis that
            is off tears edges, here listed when they grow by {LISTED.longerMm} mm and to {LISTED.ratio} times their
            length or more, torn from {TORN_MM} mm on. The worst comes first.
          </p>
        )}
        {rows && shown.length === 0 && (
          <p className="muted p-0-18">{rows.length ? "Nothing matches." : "Nothing tears anywhere."}</p>
        )}
        {shown.map((r) => (
          <div key={`${r.part} ${r.motion}`} className="row">
            <MomentLine row={r} onPose={() => pose(r)} />
            <GiveBack
              stray={r === shown.find((x) => x.part === r.part) ? stray.filter((f) => f.part === r.part) : []}
            />
          </div>
        ))}
      </div>
    </div>
  );
}

/** The walk is what the clock plays while this leaf is open. */
function usePlayedWalk(player: Player, loaded: Loaded | null): void {
  useEffect(() => {
    const walk = loaded?.motions ?? [];
    player.load({
      of: WALK,
      length: walk.length * SECONDS_A_MOTION,
      at: (t) => {
        const now = walkAt(walk, t);
        if (!now) return {};
        return { pose: motionPose(now.motion, now.degrees), weights: {}, joint: now.motion.joint, place: null };
      },
    });
  }, [player, loaded]);
  useEffect(() => () => player.unload(WALK), [player]);
}

interface Walk {
  readonly work: DeskJob;
  readonly rows: readonly WalkRow[] | null | undefined;
  readonly measure: () => Promise<void>;
}
/** Reads the walk; what was read of a state is kept with it. */
function useWalk(loaded: Loaded | null, method: Session["method"]): Walk {
  const work = useJob("The walk could not be read.");
  const rows = loaded && read.get(loaded)?.get(method);
  const measure = async (): Promise<void> => {
    if (!loaded) return;
    const found = await work.run("Walking through every motion", "walk", { method });
    if (found) read.set(loaded, new Map([...(read.get(loaded) ?? []), [method, found]]));
  };
  return { work, rows, measure };
}

interface MomentLineProps {
  readonly row: WalkRow;
  readonly onPose: () => void;
}
/** A moment of the walk in a line: how far an edge is drawn out. */
function MomentLine({ row, onPose }: MomentLineProps): ReactNode {
  return (
    <button type="button" className="plain row-line" onClick={onPose}>
      <b className="wide-110 rigid over-hidden ellipsis nowrap w-550">{row.part}</b>
      <span className="grow nowrap">{row.label}</span>
      <span className="mono muted nowrap">
        {row.angle > 0 ? "+" : ""}
        {Math.round(row.angle)}°
      </span>
      <span className="mono muted nowrap wide-52 to-right">×{row.stretch.toFixed(1)}</span>
      <span className="wide-132 rigid to-right">
        <LimitBar
          value={row.longerMm}
          limit={TORN_MM}
          text={`+${row.longerMm.toFixed(0)} mm`}
          verdict={row.longerMm > TORN_MM ? "error" : "fine"}
          width={46}
        />
      </span>
    </button>
  );
}

interface GiveBackProps {
  readonly stray: readonly Finding[];
}
/** Weights that go astray, with the repair that gives them back. */
function GiveBack({ stray }: GiveBackProps): ReactNode {
  const { addStep } = useDesk();
  const [told, setTold] = useState<ReadonlySet<unknown>>(new Set());
  return (
    <>
      {stray
        .filter((f) => !told.has(f))
        .slice(0, 3)
        .map((f) => (
          <div key={f.joint} className="line p-0-18-6 t-small">
            <span className="grow">◆ {f.message}</span>
            <Button
              onClick={() => {
                setTold(new Set([...told, f]));
                void addStep({
                  op: "mend",
                  check: f.check,
                  part: f.part,
                  joint: f.joint,
                  shape: f.shape,
                  clip: f.clip,
                  limit: f.limit,
                });
              }}>
              Give them back
            </Button>
          </div>
        ))}
    </>
  );
}

/** Play, where it is, and how fast. */
function WalkBar({ motions }: { motions: readonly JointMotion[] }): ReactNode {
  const player = playerOf(useSessionStore());
  const playback = useSession((p) => p.playback);
  const { seconds: at, playing } = playback;
  const here = walkAt(motions, at);
  return (
    <div className="p-8-18-4" role="group" aria-label="Walk">
      <div className="line one-row">
        <Button variant="outlined" sx={{ width: 76, flex: "none" }} onClick={() => player.toggle()}>
          {playing ? "Pause" : "Play"}
        </Button>
        <Slider
          size="small"
          aria-label="Place in the walk"
          min={0}
          max={playback.length}
          step={0.02}
          value={at}
          onChange={(_, t) => {
            player.pause();
            player.seek(t as number);
          }}
          valueLabelDisplay="off"
        />
        <Segmented
          label="Speed"
          options={SPEEDS}
          value={SPEEDS.find((s) => SPEED[s] === playback.speed) ?? "1"}
          onChange={(s) => player.setSpeed(SPEED[s])}
        />
      </div>
      <div className="spread t-small mt-4">
        <b className="w-550">{here?.motion.label}</b>
        <span className="mono">
          {here
            ? `${here.degrees > 0.5 ? "+" : ""}${Math.round(here.degrees) + 0}° ` +
              `of ${here.motion.min}° to ${here.motion.max}°`
            : ""}
        </span>
        <span className="muted">
          {here ? here.index + 1 : 0} of {motions.length}
        </span>
      </div>
    </div>
  );
}
