import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { LANES } from "~core/trials/lanes";
import { endOf, lengthOf, nameOf, type Piece, type Trial } from "~core/trials/trial";
import { useSession, useSessionStore } from "../../../session/session";
import { changePiece, changeTrial, removePiece, selectPiece } from "../../../session/slices/trial";
import { LineRibbon } from "../lines/LineRibbon";
import { TakeRibbon } from "../tracking/TakeRibbon";

/** Height of a lane, pixels. */
export const LANE = 44;
/** A piece is drawn to another's end, or to the needle, within this, pixels. */
const SNAP = 6;

/** One piece: brackets at its ends, its name between; dragged, nudged by key, trimmed at its brackets. */
export function PieceRibbon({
  piece,
  trial,
  x,
  top,
  scale,
}: {
  piece: Piece;
  trial: Trial;
  x: (t: number) => number;
  top: number;
  /** Seconds a pixel. */
  scale: number;
}): ReactNode {
  const store = useSessionStore();
  const chosen = useSession((s) => s.piece === piece.id);
  const drag = useRef<{ x: number; what: "move" | "from" | "to"; start: Piece; begun: boolean } | null>(null);
  const [a, b] = [x(piece.start), x(endOf(piece))];
  const name = nameOf(piece);
  const snapped = (t: number): number => snappedTo(t, trial, piece, store.getState().playback.seconds, SNAP * scale);
  const move = (e: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    const by = (e.clientX - d.x) * scale;
    if (!d.begun && Math.abs(e.clientX - d.x) < 3) return;
    changePiece(store, piece.id, draggedTo(d.start, d.what, by, snapped), d.begun);
    d.begun = true;
  };
  const begin = (what: "move" | "from" | "to", e: PointerEvent<SVGElement>): void => {
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    drag.current = { x: e.clientX, what, start: piece, begun: false };
    selectPiece(store, piece.id);
  };
  const keys = (e: KeyboardEvent): void => {
    const frame = (e.shiftKey ? 10 : 1) / trial.fps;
    if (e.key === "ArrowLeft") changePiece(store, piece.id, { start: Math.max(0, piece.start - frame) });
    else if (e.key === "ArrowRight") changePiece(store, piece.id, { start: piece.start + frame });
    else if (e.key === "Delete" || e.key === "Backspace") removePiece(store, piece.id);
    else if (e.key === "Enter") selectPiece(store, chosen ? null : piece.id);
    else if (e.key === "d") {
      changeTrial(store, (t) => doubled(t, piece));
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const [y0, y1] = [top + 3, top + LANE - 5];
  const bracket = (at: number, way: 1 | -1): string => `M${at + 4 * way},${y0} H${at} V${y1} H${at + 4 * way}`;
  return (
    <g
      data-piece
      className={`piece${chosen ? " chosen" : ""}${piece.on ? "" : " off"}`}
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`${name}, from ${piece.start.toFixed(2)} s, ${lengthOf(piece).toFixed(2)} s long`}
      onKeyDown={keys}
      onPointerMove={move}
      onPointerUp={() => (drag.current = null)}>
      <rect
        x={a}
        y={y0}
        width={Math.max(2, b - a)}
        height={y1 - y0}
        className="ground"
        onPointerDown={(e) => begin("move", e)}
      />
      <path d={bracket(a, 1)} />
      <path d={bracket(b, -1)} />
      {piece.fadeIn > 0 && <line x1={a} y1={y1} x2={x(piece.start + piece.fadeIn)} y2={y0} className="fade" />}
      {piece.fadeOut > 0 && <line x1={b} y1={y1} x2={x(endOf(piece) - piece.fadeOut)} y2={y0} className="fade" />}
      <rect x={a - 3} y={y0} width={8} height={y1 - y0} className="end" onPointerDown={(e) => begin("from", e)} />
      <rect x={b - 5} y={y0} width={8} height={y1 - y0} className="end" onPointerDown={(e) => begin("to", e)} />
      {piece.kind === "take" && <TakeRibbon piece={piece} x={x} top={y0} bottom={y1} />}
      {piece.kind !== "line" && (
        <svg x={a + 7} y={y0} width={Math.max(0, b - a - 12)} height={14} pointerEvents="none">
          <text x={0} y={11} className="piece-name">
            {name}
          </text>
        </svg>
      )}
      {piece.kind === "line" && (
        <LineRibbon piece={piece} trial={trial} x={x} top={y0} bottom={y1} scale={scale} chosen={chosen} />
      )}
      {piece.kind === "keys" && <KeyTicks piece={piece} x={x} y0={y1 - 9} y1={y1 - 2} />}
    </g>
  );
}

/** A time, or the end of another piece, the needle or the beginning where one is within reach. All seconds. */
function snappedTo(t: number, trial: Trial, piece: Piece, needle: number, reach: number): number {
  const others = LANES.flatMap((l) => trial.lanes[l].filter((p) => p.id !== piece.id));
  const ends = [0, needle, ...others.flatMap((p) => [p.start, endOf(p), ...bordersOf(p)])];
  const near = ends.reduce((m, e) => (Math.abs(e - t) < Math.abs(m - t) ? e : m), Infinity);
  return Math.abs(near - t) < reach ? near : t;
}

/** What becomes of a piece that is dragged, or trimmed at an end. @param by seconds. */
function draggedTo(p: Piece, what: "move" | "from" | "to", by: number, snapped: (t: number) => number): Partial<Piece> {
  if (what === "move") {
    const start = Math.max(0, p.start + by);
    const [head, tail] = [snapped(start), snapped(start + lengthOf(p)) - lengthOf(p)];
    return { start: Math.max(0, head !== start ? head : tail) };
  }
  if (what === "to") return { to: Math.max(p.from + 0.05, p.from + (snapped(endOf(p) + by) - p.start) * p.speed) };
  const start = Math.min(endOf(p) - 0.05, Math.max(0, snapped(p.start + by)));
  const from = p.from + (start - p.start) * p.speed;
  return from < 0 ? { start: p.start - p.from / p.speed, from: 0 } : { start, from };
}

/** Where phones of a line begin on the ruler: other pieces are drawn to them. */
const bordersOf = (p: Piece): number[] =>
  p.kind === "line" ? p.line.phones.map((q) => p.start + (q.from - p.from) / p.speed) : [];

/** The same piece once more, right behind itself. */
function doubled(trial: Trial, piece: Piece): Trial {
  const lanes = Object.fromEntries(
    LANES.map((l) => [
      l,
      trial.lanes[l].some((p) => p.id === piece.id)
        ? [...trial.lanes[l], { ...piece, id: crypto.randomUUID(), start: endOf(piece) }]
        : trial.lanes[l],
    ]),
  ) as Trial["lanes"];
  return { ...trial, lanes };
}

function KeyTicks({
  piece,
  x,
  y0,
  y1,
}: {
  piece: Piece & { kind: "keys" };
  x: (t: number) => number;
  y0: number;
  y1: number;
}): ReactNode {
  const { joints, shapes, hips } = piece.keys;
  const all = [...Object.values(joints), ...Object.values(shapes), ...(hips ? [hips] : [])];
  const times = [...new Set(all.flatMap((c) => c.times))].filter((t) => t >= piece.from && t <= piece.to);
  return times.map((t) => (
    <line
      key={t}
      x1={x(piece.start + (t - piece.from) / piece.speed)}
      x2={x(piece.start + (t - piece.from) / piece.speed)}
      y1={y0}
      y2={y1}
      className="key"
    />
  ));
}
