import Button from "@mui/material/Button";
import { useMemo, useState, type ReactNode } from "react";
import type { JointMotion } from "~core/skeleton/jointMotions";
import type { TrialResult } from "~server/services/trials";
import { worstRow } from "../../session/motionScore";
import { poseMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { useGoToStation } from "../../session/useGoToStation";
import { isCorrected, useCorrectAll } from "../../session/useCorrectAll";
import { useSweepAfter } from "../../session/useSweepAfter";
import { useSweeps } from "../../session/useSweeps";
import { CombinedTrials } from "./CombinedTrials";
import { ClothTrials } from "./ClothTrials";
import { MixTrials } from "./MixTrials";
import { WalkTrials } from "./WalkTrials";
import { PairTrials } from "./PairTrials";
import { LineTrials } from "./lines/LineTrials";
import { FaceTrials } from "./tracking/FaceTrials";
import { ClipTrials } from "./ruler/ClipTrials";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { Segmented } from "../../ui/Segmented";
import { SheetHead } from "../../ui/SheetHead";
import { useQueryState } from "../../ui/useQueryState";
import { setView, showMoment } from "../../session/slices/view";

interface Row {
  readonly motion: JointMotion;
  readonly trial: TrialResult | null;
  readonly score: ReturnType<typeof worstRow>;
  readonly before: ReturnType<typeof worstRow>;
}

const isOver = ({ score }: Row): boolean => (score?.excess.times ?? 0) > 1;
type Running = NonNullable<ReturnType<typeof useSweeps>["running"]>;

const LEAVES = ["clips", "lines", "face", "motion", "combined", "walk", "cloth", "pairs", "mixes"] as const;
const LEAF_NAMES = {
  clips: "Clips",
  lines: "Lines",
  face: "Face",
  motion: "Range",
  combined: "Two at once",
  walk: "Walk",
  cloth: "Cloth",
  pairs: "Pairs",
  mixes: "Mixes",
} as const;

/** Leaves that belong together; the others of a group are seen when one of it is open. */
const GROUPS: Readonly<Record<string, readonly (typeof LEAVES)[number][]>> = {
  "In time": ["clips", "lines", "face"],
  "In poses": ["motion", "combined", "walk", "cloth"],
  "Of the face": ["pairs", "mixes"],
};

/**
 * Trials of the whole figure: clips, spoken lines and a tracked face on the ruler, the range of motion of every joint,
 * two motions at once, a walk through all of them, skin through the clothes, every pair of face shapes, and mixes found
 * by chance.
 */
export function TrialsSheet(): ReactNode {
  const [leaf, setLeaf] = useQueryState<(typeof LEAVES)[number]>("leaf", "motion", LEAVES);
  const leaves = <Leaves leaf={leaf} onLeaf={setLeaf} />;
  const View = VIEWS[leaf];
  return <View leaves={leaves} />;
}

/** The leaves of the group that is open, and the other groups by their names. */
function Leaves({ leaf, onLeaf }: { leaf: (typeof LEAVES)[number]; onLeaf: (leaf: (typeof LEAVES)[number]) => void }) {
  return (
    <span className="line one-row" role="group" aria-label="Leaf">
      {Object.entries(GROUPS).map(([name, of]) =>
        of.includes(leaf) ? (
          <Segmented key={name} label={name} options={of} value={leaf} onChange={onLeaf} names={LEAF_NAMES} />
        ) : (
          <button key={name} type="button" className="plain other-leaves" onClick={() => onLeaf(of[0]!)}>
            {name}
          </button>
        ),
      )}
    </span>
  );
}

const VIEWS: Readonly<Record<(typeof LEAVES)[number], (props: { leaves: ReactNode }) => ReactNode>> = {
  clips: ClipTrials,
  lines: LineTrials,
  face: FaceTrials,
  motion: MotionTrials,
  combined: CombinedTrials,
  walk: WalkTrials,
  cloth: ClothTrials,
  pairs: PairTrials,
  mixes: MixTrials,
};

/** The range of motion of every joint: each swept, scored by its worst moment, worst first. */
function MotionTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const page = useCharacterPage();
  const sweeps = useSweeps();
  const all = useCorrectAll();
  const [open, setOpen] = useQueryState<string>("open", "");
  const [find, setFind] = useState("");
  const rows = useMemo(() => {
    const all = (loaded?.motions ?? []).map((motion): Row => {
      const trial = page.trials.find((t) => t.motion === motion.id && t.method === method) ?? null;
      return {
        motion,
        trial,
        score: trial && worstRow(trial.rows, "with"),
        before: trial && worstRow(trial.rows, "without"),
      };
    });
    return all.sort((a, b) => (b.score?.excess.times ?? -1) - (a.score?.excess.times ?? -1));
  }, [loaded, page.trials, method]);
  const shown = rows.filter((r) => `${r.motion.label} ${r.motion.joint}`.toLowerCase().includes(find.toLowerCase()));
  const bare = loaded ? rows.filter(isOver).filter((r) => !isCorrected(loaded.character, r.motion)) : [];
  const sweepAfter = useSweepAfter(sweeps);
  const correctAll = async (): Promise<void> => {
    const touched = sweepAfter();
    touched(await all.run(bare.map((r) => r.motion)));
  };
  const choose = (row: Row): void => {
    const { motion, score } = row;
    setOpen(open === motion.id ? "" : motion.id);
    if (open === motion.id) return;
    showMoment(store, {
      joint: motion.joint,
      framing: `joint ${motion.joint}`,
      reading:
        score && (score.excess.measure === "overlap" || score.excess.measure === "stretch")
          ? score.excess.measure
          : "skin",
    });
    if (score) poseMotion(store, motion, Math.round(score.row.angle));
  };
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        <MotionHead
          find={find}
          onFind={setFind}
          rows={rows}
          bare={bare.length}
          onCorrectAll={() => void correctAll()}
          running={sweeps.running ?? all.running}
          onCancel={sweeps.running ? sweeps.cancel : all.cancel}
          onSweep={(of) => void sweeps.run(of.map((r) => r.motion))}
        />
      </SheetHead>
      <div className="sheet-body">
        {!loaded && <p className="muted p-8-18">Fetching the character</p>}
        {loaded && rows.length === 0 && (
          <p className="p-8-18">No joint has a known range: map the joints at the Skeleton station first.</p>
        )}
        {shown.map((row) => (
          <TrialRow
            key={row.motion.id}
            row={row}
            open={open === row.motion.id}
            onOpen={() => choose(row)}
            onSweep={() => void sweeps.run([row.motion])}
            busy={sweeps.running !== null || all.running !== null}
          />
        ))}
        {rows.length > 0 && shown.length === 0 && <p className="muted p-8-18">Nothing matches.</p>}
      </div>
    </div>
  );
}

interface MotionHeadProps {
  readonly find: string;
  readonly onFind: (find: string) => void;
  readonly rows: readonly Row[];
  readonly bare: number;
  readonly onCorrectAll: () => void;
  readonly running: Running | null;
  readonly onCancel: () => void;
  readonly onSweep: (rows: readonly Row[]) => void;
}
/** How many motions are swept; sweeping and correcting all of them. */
function MotionHead({
  find,
  onFind,
  rows,
  bare,
  onCorrectAll,
  running,
  onCancel,
  onSweep,
}: MotionHeadProps): ReactNode {
  const store = useSessionStore();
  const method = useSession((s) => s.method);
  const unswept = rows.filter((r) => !r.trial);
  const over = rows.filter(isOver).length;
  return (
    <>
      {running ? (
        <Progress {...running} onCancel={onCancel} />
      ) : (
        <>
          <Segmented
            label="Skinning"
            options={["linear", "dual"] as const}
            value={method}
            onChange={(m) => setView(store, { method: m })}
            names={{ dual: "dual quat." }}
          />
          <FindField label="Find a joint" value={find} onChange={onFind} />
          <span className="muted nowrap">
            {rows.length - unswept.length} of {rows.length} swept, {over} over a limit
          </span>
          {bare > 0 && (
            <Button
              title="Proposes a corrective for every motion over a limit that has none, as one step"
              onClick={onCorrectAll}>
              Correct all {bare}
            </Button>
          )}
          <Button
            variant={unswept.length ? "contained" : "text"}
            disabled={rows.length === 0}
            onClick={() => onSweep(unswept.length ? unswept : rows)}>
            {unswept.length === 0
              ? "Sweep all again"
              : unswept.length === rows.length
                ? "Sweep all"
                : `Sweep the other ${unswept.length}`}
          </Button>
        </>
      )}
    </>
  );
}

function TrialRow({
  row: { motion, trial, score, before },
  open,
  onOpen,
  onSweep,
  busy,
}: {
  row: Row;
  open: boolean;
  onOpen: () => void;
  onSweep: () => void;
  busy: boolean;
}): ReactNode {
  const store = useSessionStore();
  const go = useGoToStation();
  const better = before && score && before.excess.times - score.excess.times > 0.01;
  return (
    <div className={`row${open ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={onOpen}>
        <span className="grow">{motion.label}</span>
        {score ? (
          <>
            <span className="muted mono nowrap">{better ? `was ${before.excess.text}` : ""}</span>
            <span className="mono nowrap wide-60 to-right">at {Math.round(score.row.angle)}°</span>
            <span className="wide-186 rigid to-right">
              <LimitBar
                value={score.excess.times}
                limit={1}
                text={score.excess.text}
                verdict={score.excess.times > 2 ? "error" : score.excess.times > 1 ? "warn" : "fine"}
                width={54}
              />
            </span>
          </>
        ) : (
          <span className="muted mono nowrap">{trial ? "bends no skin" : "not swept"}</span>
        )}
      </button>
      {open && (
        <div className="row-body">
          {trial?.findings.map((f) => (
            <div key={f.check} className="t-small mb-4">
              <span style={{ color: f.severity === "error" ? "var(--brick)" : "var(--amber)" }} aria-hidden>
                {f.severity === "error" ? "▲" : "◆"}
              </span>{" "}
              {f.message}
            </div>
          ))}
          {trial?.findings.length === 0 && score && (
            <div className="muted t-small mb-4">
              Within every limit from {motion.min}° to {motion.max}°.
            </div>
          )}
          <div className="line">
            {score && (
              <Button variant="contained" onClick={() => poseMotion(store, motion, Math.round(score.row.angle))}>
                Pose the worst
              </Button>
            )}
            <Button disabled={busy} variant={score ? "text" : "contained"} onClick={onSweep}>
              {trial ? "Sweep again" : "Sweep"}
            </Button>
            <Button onClick={() => go("correctives", motion.id)}>Correct it</Button>
          </div>
        </div>
      )}
    </div>
  );
}
