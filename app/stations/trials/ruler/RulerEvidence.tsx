import {
  useEffect,
  useMemo,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type WheelEvent,
} from "react";
import { worstLine } from "~core/trials/moments";
import type { BodyLane } from "~core/trials/watchFeet";
import { LANES, type Lane } from "~core/trials/lanes";
import { trialFrames, trialSeconds, type Trial } from "~core/trials/trial";
import { askJob } from "../../../session/jobs/pageJobs";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { selectPiece, setSeen } from "../../../session/slices/trial";
import { heatCss } from "../../../ui/heatCss";
import { faceAmount, type FaceAmount } from "./faceAmount";
import { LANE, PieceRibbon } from "./PieceRibbon";
import { useWatch } from "./useWatch";

const TOP = 20;
const LINE = 9;
const MARKS = 9;
const LEFT = 46;
const RIGHT = 24;

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

/** Seconds between the ticks of the ruler, so that they stand at least so far apart. */
function tickStep(seconds: number, pixels: number): number {
  const least = (seconds * 56) / Math.max(1, pixels);
  return [0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300].find((s) => s >= least) ?? 600;
}

function Lanes({ trial, width }: { trial: Trial; width: number }): ReactNode {
  const store = useSessionStore();
  const player = playerOf(store);
  const loop = useSession((s) => s.playback.loop);
  const { moments, watched } = useWatch();
  const body = useBodyLane(trial);
  const all = Math.max(0.5, trialSeconds(trial));
  const seen = useSession((s) => s.seen);
  const [first, last] = seen && seen[0] < all ? [seen[0], Math.min(seen[1], all)] : [0, all];
  const seconds = last - first;
  const long = width - LEFT - RIGHT;
  const x = (t: number): number => LEFT + ((t - first) / seconds) * long;
  const shown = LANES.filter((l) => l === "body" || trial.lanes[l].length > 0);
  const character = useSession((s) => s.loaded?.character ?? null);
  const spoken = useSession((s) => s.spokenLines);
  const face = useMemo(
    () => character && faceAmount(trial, character),
    // lines that were worked out since move the face, too
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [trial, character, spoken],
  );
  const withFace = face !== null && !shown.includes("face");
  const lanes: readonly Lane[] = withFace ? [...shown, "face"] : shown;
  const height = TOP + LINE + MARKS + lanes.length * LANE + 4;
  const step = tickStep(seconds, long);
  const ticks = Array.from(
    { length: Math.floor(last / step + 1e-6) - Math.ceil(first / step - 1e-6) + 1 },
    (_, i) => (Math.ceil(first / step - 1e-6) + i) * step,
  );
  const at = (e: PointerEvent<SVGSVGElement> | WheelEvent<SVGSVGElement>): number => {
    const r = e.currentTarget.getBoundingClientRect();
    return Math.min(last, Math.max(first, first + ((e.clientX - r.left - LEFT) / long) * seconds));
  };
  /** Nearer or farther about the needle, or about a place. */
  const zoom = (by: number, about = store.getState().playback.seconds): void => {
    const now = Math.min(all, Math.max(0.4, seconds * by));
    if (now >= all) return setSeen(store, null);
    const middle = about >= first && about <= last ? about : (first + last) / 2;
    const from = Math.min(all - now, Math.max(0, middle - ((middle - first) / seconds) * now));
    setSeen(store, [from, from + now]);
  };
  const keys = (e: KeyboardEvent): void => {
    const now = store.getState().playback.seconds;
    if (e.key === "[") player.setLoop([now, Math.max(now + 0.1, loop?.[1] ?? all)]);
    else if (e.key === "]") player.setLoop([Math.min(loop?.[0] ?? 0, now - 0.1), now]);
    else if (e.key === "Escape") player.setLoop(null);
    else if (e.key === "ArrowLeft") player.step(e.shiftKey ? -10 : -1);
    else if (e.key === "ArrowRight") player.step(e.shiftKey ? 10 : 1);
    else if (e.key === "Home") player.seek(0);
    else if (e.key === "End") player.seek(all);
    else if (e.key === "+" || e.key === "=") zoom(0.6);
    else if (e.key === "-") zoom(1 / 0.6);
    else if (e.key === "0") setSeen(store, null);
    else return;
    e.preventDefault();
  };
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
      onKeyDown={keys}
      onPointerDown={(e) => {
        if ((e.target as Element).closest("[data-piece]")) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        selectPiece(store, null);
        player.pause();
        player.seek(at(e));
      }}
      onWheel={(e) => {
        if (e.ctrlKey || e.metaKey) zoom(e.deltaY < 0 ? 0.8 : 1.25, at(e));
        else if (seen && e.deltaX + e.deltaY !== 0) {
          const by = Math.min(all - last, Math.max(-first, ((e.deltaX + e.deltaY) / long) * seconds));
          setSeen(store, [first + by, last + by]);
        }
      }}
      onPointerMove={(e) => {
        if (e.currentTarget.hasPointerCapture(e.pointerId)) player.seek(at(e));
      }}>
      <clipPath id="seen-of-ruler">
        <rect x={LEFT - 9} y={0} width={long + 18} height={height} />
      </clipPath>
      {ticks.map((t) => (
        <g key={t}>
          <line x1={x(t)} x2={x(t)} y1={TOP - 6} y2={height - 4} className="hair" />
          <text x={x(t)} y={11} className="tick-text" textAnchor="middle">
            {Number(t.toFixed(2))} s
          </text>
        </g>
      ))}
      <g clipPath="url(#seen-of-ruler)">
        {loop && <rect x={x(loop[0])} width={x(loop[1]) - x(loop[0])} y={TOP - 3} height={3} className="loop" />}
      </g>
      <text x={4} y={TOP + LINE} className="lane-name">
        watch
      </text>
      <g clipPath="url(#seen-of-ruler)">
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
      {lanes.map((lane, i) => {
        const top = TOP + LINE + MARKS + i * LANE;
        return (
          <g key={lane}>
            <text x={4} y={top + 16} className="lane-name">
              {lane}
            </text>
            <line x1={LEFT} x2={width - RIGHT} y1={top + LANE - 2} y2={top + LANE - 2} className="hair" />
            <g clipPath="url(#seen-of-ruler)">
              {lane === "body" && body && <BodyCurves body={body} fps={trial.fps} x={x} top={top} />}
              {lane === "face" && face && <FaceCurve face={face} x={x} top={top} />}
              {trial.lanes[lane].map((p) => (
                <PieceRibbon key={p.id} piece={p} trial={trial} x={x} top={top} scale={seconds / long} />
              ))}
            </g>
          </g>
        );
      })}
      <g clipPath="url(#seen-of-ruler)">
        <Needle x={x} height={height} />
      </g>
    </svg>
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

/** The worst of each frame, in even colour; frames that are not measured are left bare. */
function WatchLine({
  trial,
  line,
  x,
}: {
  trial: Trial;
  line: Float32Array | null;
  x: (t: number) => number;
}): ReactNode {
  const runs = useMemo(() => {
    if (!line) return [];
    const out: { from: number; to: number; level: number }[] = [];
    line.forEach((v, f) => {
      if (Number.isNaN(v)) return;
      // a third of the scale is the limit, its end three times that
      const level = Math.round(8 * Math.min(1, v / 3));
      const last = out[out.length - 1];
      if (last && last.level === level && last.to === f) last.to = f + 1;
      else out.push({ from: f, to: f + 1, level });
    });
    return out;
  }, [line]);
  return (
    <g aria-hidden>
      <rect x={x(0)} y={TOP} width={x(trialSeconds(trial)) - x(0)} height={LINE} className="bare" />
      {runs.map((r) => (
        <rect
          key={r.from}
          x={x(r.from / trial.fps)}
          width={Math.max(1, x(r.to / trial.fps) - x(r.from / trial.fps) + 0.3)}
          y={TOP}
          height={LINE}
          fill={heatCss(r.level / 8)}
        />
      ))}
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

function BodyCurves({
  body,
  fps,
  x,
  top,
}: {
  body: BodyLane;
  fps: number;
  x: (t: number) => number;
  top: number;
}): ReactNode {
  const { hips, stands } = body;
  const path = useMemo(() => {
    const [low, high] = [Math.min(...hips), Math.max(...hips)];
    const span = Math.max(0.05, high - low);
    const every = Math.max(1, Math.floor(hips.length / 800));
    const points: string[] = [];
    for (let f = 0; f < hips.length; f += every)
      points.push(`${x(f / fps).toFixed(1)},${(top + 22 - 8 * ((hips[f]! - low) / span)).toFixed(1)}`);
    return points.join(" ");
  }, [hips, fps, x, top]);
  return (
    <g aria-hidden>
      <polyline points={path} className="hips" />
      {(["left", "right"] as const).map((foot, i) => {
        const y = top + 31 + 6 * i;
        return (
          <g key={foot}>
            <line x1={x(0)} x2={x((hips.length - 1) / fps)} y1={y} y2={y} className="foot" />
            {stands[foot].map(([a, b]) => (
              <line key={a} x1={x(a / fps)} x2={x(b / fps)} y1={y} y2={y} className="foot stands">
                <title>{`${foot} foot stands, ${(a / fps).toFixed(2)} to ${(b / fps).toFixed(2)} s`}</title>
              </line>
            ))}
          </g>
        );
      })}
    </g>
  );
}

/** How much the face moves, and the shape that is strongest where it peaks. */
/** Room that a shape's name takes, pixels a letter. */
const LETTER = 7.4;

/** The highest peaks whose names do not run into each other. */
function apartOnRuler(peaks: FaceAmount["peaks"], x: (t: number) => number): FaceAmount["peaks"] {
  const half = (p: FaceAmount["peaks"][number]): number => (LETTER * p.shape.length) / 2;
  const out: FaceAmount["peaks"][number][] = [];
  for (const p of [...peaks].sort((a, b) => b.value - a.value))
    if (out.every((q) => Math.abs(x(p.at) - x(q.at)) > half(p) + half(q))) out.push(p);
  return out;
}

function FaceCurve({ face, x, top }: { face: FaceAmount; x: (t: number) => number; top: number }): ReactNode {
  const y = (v: number): number => top + LANE - 4 - 22 * Math.min(1, v / 1.5);
  const points = face.amounts.map(([t, v]) => `${x(t).toFixed(1)},${y(v).toFixed(1)}`).join(" ");
  const [first, last] = [face.amounts[0]!, face.amounts[face.amounts.length - 1]!];
  return (
    <g aria-hidden>
      <polygon
        points={`${x(first[0])},${top + LANE - 4} ${points} ${x(last[0])},${top + LANE - 4}`}
        className="amount"
      />
      {apartOnRuler(face.peaks, x).map((p) => (
        <text key={`${p.at} ${p.shape}`} x={x(p.at)} y={y(p.value) - 3} className="tick-text" textAnchor="middle">
          {p.shape}
        </text>
      ))}
    </g>
  );
}
