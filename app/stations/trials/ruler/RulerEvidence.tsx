import { useEffect, useMemo, useState, type ReactNode } from "react";
import { LANES, type Lane } from "~core/trials/lanes";
import { worstLine } from "~core/trials/moments";
import { trialFrames, type Trial } from "~core/trials/trial";
import type { BodyLane } from "~core/trials/watchFeet";
import { askJob } from "../../../session/jobs/pageJobs";
import { useSession } from "../../../session/session";
import { faceAmount, type FaceAmount } from "./faceAmount";
import { BodyCurves, FaceCurve } from "./LaneCurves";
import { LANE, PieceRibbon } from "./PieceRibbon";
import { LEFT, LINE, MARKS, RIGHT, TOP, useRulerView, type RulerView } from "./rulerView";
import { useWatch } from "./useWatch";
import { WatchLine } from "./WatchLine";

/** The ruler under the stage: seconds and frames, the watch line with its moments, and the lanes. */
export function RulerEvidence(): ReactNode {
  const trial = useSession((s) => s.trial);
  const [box, setBox] = useState<HTMLDivElement | null>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    if (!box) return undefined;
    const seen = new ResizeObserver(() => setWidth(box.clientWidth));
    seen.observe(box);
    return () => seen.disconnect();
  }, [box]);
  if (!trial) return <p className="muted">Fetching the character</p>;
  return (
    <div ref={setBox} className="ruler">
      {width > 0 && <Lanes trial={trial} width={width} />}
    </div>
  );
}

const SEEN = "url(#seen-of-ruler)";

function Lanes({ trial, width }: { trial: Trial; width: number }): ReactNode {
  const view = useRulerView(trial, width);
  const loop = useSession((s) => s.playback.loop);
  const body = useBodyLane(trial);
  const face = useFaceAmount(trial);
  const used = LANES.filter((l) => l === "body" || trial.lanes[l].length > 0);
  const lanes: readonly Lane[] = face !== null && !used.includes("face") ? [...used, "face"] : used;
  const height = TOP + LINE + MARKS + lanes.length * LANE + 4;
  const { x, all, ticks, onKeyDown, onPointerDown, onPointerMove, onWheel } = view;
  return (
    <svg
      width={width}
      height={height}
      className="ruler-lanes"
      role="slider"
      tabIndex={0}
      aria-label="Ruler: arrows step a frame, [ and ] set what plays over and over, Escape plays all, + and - zoom"
      aria-valuemin={0}
      aria-valuemax={all}
      aria-valuenow={0}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      onWheel={onWheel}
      onPointerMove={onPointerMove}>
      <clipPath id="seen-of-ruler">
        <rect x={LEFT - 9} y={0} width={width - LEFT - RIGHT + 18} height={height} />
      </clipPath>
      {ticks.map((t) => (
        <g key={t}>
          <line x1={x(t)} x2={x(t)} y1={TOP - 6} y2={height - 4} className="hair" />
          <text x={x(t)} y={11} className="tick-text" textAnchor="middle">
            {Number(t.toFixed(2))} s
          </text>
        </g>
      ))}
      <g clipPath={SEEN}>
        {loop && <rect x={x(loop[0])} width={x(loop[1]) - x(loop[0])} y={TOP - 3} height={3} className="loop" />}
      </g>
      <WatchMarks trial={trial} x={x} />
      {lanes.map((lane, i) => (
        <LaneGroup
          key={lane}
          lane={lane}
          top={TOP + LINE + MARKS + i * LANE}
          width={width}
          trial={trial}
          view={view}
          body={body}
          face={face}
        />
      ))}
      <g clipPath={SEEN}>
        <Needle x={x} height={height} />
      </g>
    </svg>
  );
}

/** The worst of each frame, and a mark where each moment is worst. */
function WatchMarks({ trial, x }: { trial: Trial; x: (t: number) => number }): ReactNode {
  const { moments, watched } = useWatch();
  return (
    <>
      <text x={4} y={TOP + LINE} className="lane-name">
        watch
      </text>
      <g clipPath={SEEN}>
        <WatchLine trial={trial} line={watched ? worstLine(watched.readings, trialFrames(trial)) : null} x={x} />
        {moments
          .filter((m) => m.severity !== "note")
          .slice(0, 200)
          .map((m) => (
            <line
              key={`${m.check} ${m.place} ${m.from}`}
              x1={x(m.worstAt)}
              x2={x(m.worstAt)}
              y1={TOP + LINE + 1}
              y2={TOP + LINE + MARKS}
              stroke={m.severity === "error" ? "var(--brick)" : "var(--amber)"}>
              <title>{m.message}</title>
            </line>
          ))}
      </g>
    </>
  );
}

interface LaneGroupProps {
  readonly lane: Lane;
  readonly top: number;
  readonly width: number;
  readonly trial: Trial;
  readonly view: RulerView;
  readonly body: BodyLane | null;
  readonly face: FaceAmount | null;
}
function LaneGroup({ lane, top, width, trial, view: { x, scale }, body, face }: LaneGroupProps): ReactNode {
  return (
    <g>
      <text x={4} y={top + 16} className="lane-name">
        {lane}
      </text>
      <line x1={LEFT} x2={width - RIGHT} y1={top + LANE - 2} y2={top + LANE - 2} className="hair" />
      <g clipPath={SEEN}>
        {lane === "body" && body && <BodyCurves body={body} fps={trial.fps} x={x} top={top} />}
        {lane === "face" && face && <FaceCurve face={face} x={x} top={top} />}
        {trial.lanes[lane].map((p) => (
          <PieceRibbon key={p.id} piece={p} trial={trial} x={x} top={top} scale={scale} />
        ))}
      </g>
    </g>
  );
}

/** How much the trial moves the face; null where it does not. */
function useFaceAmount(trial: Trial): FaceAmount | null {
  const character = useSession((s) => s.loaded?.character ?? null);
  const spoken = useSession((s) => s.spokenLines);
  return useMemo(
    () => character && faceAmount(trial, character),
    // lines that were worked out since move the face, too
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [trial, character, spoken],
  );
}

function Needle({ x, height }: { x: (t: number) => number; height: number }): ReactNode {
  const seconds = useSession((s) => s.playback.seconds);
  return (
    <g className="needle">
      <line x1={x(seconds)} x2={x(seconds)} y1={TOP - 7} y2={height - 4} />
      <path d={`M${x(seconds) - 4},${TOP - 9} h8 l-4,6 z`} />
    </g>
  );
}

/** When feet stand, and the hips' height, asked for when the trial or the character changes. */
function useBodyLane(trial: Trial): BodyLane | null {
  const loaded = useSession((s) => s.loaded);
  const [lane, setLane] = useState<BodyLane | null>(null);
  useEffect(() => {
    if (!loaded) return undefined;
    let here = true;
    void askJob(loaded, "body lane", { trial })
      .then((l) => here && setLane(l))
      .catch(() => {}); // a newer one was asked for
    return () => {
      here = false;
    };
  }, [loaded, trial]);
  return lane;
}
