import { useRef, useState, type PointerEvent, type ReactNode } from "react";
import { monotoneSlopes, weightOnPoints, type AnglePoint } from "~core/model/terms/anglePoints";
import type { AngleTerm } from "~core/model/terms/angleTerm";

const W = 300;
const H = 96;
const FOOT = 16;

interface PointCurveProps {
  readonly term: AngleTerm;
  /** Degrees of the joint now. */
  readonly angle: number;
  readonly label: string;
  readonly onSet: (points: readonly AnglePoint[]) => void;
}

/** A weight over an angle: points are dragged, added by a double click on the curve, and let go by one on them. */
export function PointCurve({ term, angle, label, onSet }: PointCurveProps): ReactNode {
  const [dragged, setDragged] = useState<readonly AnglePoint[] | null>(null);
  const at = useRef(-1);
  const box = useRef<SVGSVGElement>(null);
  const points = dragged ?? term.points;
  const all = [...term.points.map((p) => p.degrees), 0, angle];
  const lo = Math.min(...all) - 12;
  const hi = Math.max(...all) + 12;
  const top = Math.max(1, ...term.points.map((p) => p.weight)) * 1.08;
  const x = (deg: number): number => 4 + ((W - 8) * (deg - lo)) / (hi - lo);
  const y = (w: number): number => H - FOOT - ((H - FOOT - 8) * w) / top;
  const slopes = term.between === "smooth" ? monotoneSlopes(points) : null;
  const line = Array.from({ length: 91 }, (_, i) => lo + ((hi - lo) * i) / 90)
    .map((a) => `${x(a).toFixed(1)},${y(weightOnPoints(points, slopes, a)).toFixed(1)}`)
    .join(" ");
  const placeOf = (e: { clientX: number; clientY: number }): AnglePoint => {
    const r = box.current!.getBoundingClientRect();
    const deg = lo + ((((e.clientX - r.left) / r.width) * W - 4) / (W - 8)) * (hi - lo);
    const w = ((H - FOOT - ((e.clientY - r.top) / r.height) * H) / (H - FOOT - 8)) * top;
    return { degrees: Math.round(deg), weight: Math.round(100 * Math.min(2, Math.max(0, w))) / 100 };
  };
  const move = (e: PointerEvent): void => {
    if (at.current < 0) return;
    const to = placeOf(e);
    const [before, after] = [points[at.current - 1], points[at.current + 1]];
    const degrees = Math.min((after?.degrees ?? 361) - 1, Math.max((before?.degrees ?? -361) + 1, to.degrees));
    setDragged(points.map((p, i) => (i === at.current ? { ...to, degrees } : p)));
  };
  const drop = (): void => {
    at.current = -1;
    if (dragged) onSet(dragged);
    setDragged(null);
  };
  const add = (e: React.MouseEvent): void => {
    const p = placeOf(e);
    if (points.length >= 20 || points.some((o) => Math.abs(o.degrees - p.degrees) < 2)) return;
    onSet([...points, p].sort((a, b) => a.degrees - b.degrees));
  };
  return (
    <svg
      ref={box}
      viewBox={`0 0 ${W} ${H}`}
      className="point-curve"
      role="img"
      aria-label={label}
      onPointerMove={move}
      onPointerUp={drop}
      onDoubleClick={add}>
      <title>Drag a point; double-click on the paper to add one, on a point to take it out</title>
      {[0, 1].map((w) => (
        <line key={w} x1={0} x2={W} y1={y(w)} y2={y(w)} stroke="var(--line)" />
      ))}
      <line x1={x(0)} x2={x(0)} y1={4} y2={H - FOOT} stroke="var(--line)" />
      <polyline points={line} fill="none" stroke="var(--accent)" strokeWidth={1.8} />
      <line x1={x(angle)} x2={x(angle)} y1={2} y2={H - FOOT} stroke="var(--brick)" strokeDasharray="3 2" />
      {points.map((p, i) => (
        <g key={i}>
          <circle
            cx={x(p.degrees)}
            cy={y(p.weight)}
            r={5}
            className="point"
            onPointerDown={(e) => {
              at.current = i;
              box.current!.setPointerCapture(e.pointerId);
            }}
            onDoubleClick={(e) => {
              e.stopPropagation();
              if (points.length > 2) onSet(points.filter((_, k) => k !== i));
            }}
          />
          <text x={x(p.degrees)} y={H - 4} textAnchor="middle" className="chart-words">
            {p.degrees}°
          </text>
        </g>
      ))}
    </svg>
  );
}
