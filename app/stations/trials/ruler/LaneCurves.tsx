import { useMemo, type ReactNode } from "react";
import type { BodyLane } from "~core/trials/watchFeet";
import type { FaceAmount } from "./faceAmount";
import { LANE } from "./PieceRibbon";

/** The hips' height, and when each foot stands. */
export function BodyCurves({
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

/** How much the face moves, and the shape that is strongest where it peaks. */
export function FaceCurve({ face, x, top }: { face: FaceAmount; x: (t: number) => number; top: number }): ReactNode {
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
