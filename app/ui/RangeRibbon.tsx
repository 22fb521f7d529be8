import { useEffect, useRef, type KeyboardEvent, type ReactNode } from "react";
import { dragAcross } from "./dragAcross";
import { heatCss } from "./heatCss";

export interface RangeRibbonProps {
  readonly label: string;
  readonly min: number;
  readonly max: number;
  /** Worst deformation at angles, share 0..1 of the scale; empty while not yet swept. */
  readonly readings: readonly { readonly angle: number; readonly share: number }[];
  readonly angle: number | null;
  /** Ranges where correctives act. */
  readonly brackets: readonly { readonly from: number; readonly to: number }[];
  readonly onPick: (angle: number) => void;
}

/**
 * A joint's range of motion as a strip: colour for the worst deformation, brackets for correctives, a needle for the
 * pose.
 */
export function RangeRibbon({ label, min, max, readings, angle, brackets, onPick }: RangeRibbonProps): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  const place = (a: number): number => (100 * (Math.min(max, Math.max(min, a)) - min)) / (max - min || 1);
  useEffect(() => {
    const c = canvas.current;
    const ctx = c?.getContext("2d");
    if (!c || !ctx) return;
    ctx.clearRect(0, 0, c.width, c.height);
    if (readings.length === 0) return;
    for (let x = 0; x < c.width; x++) {
      const a = min + ((max - min) * x) / (c.width - 1);
      const next = readings.findIndex((r) => r.angle >= a);
      const hi = readings[next < 0 ? readings.length - 1 : next]!;
      const lo = readings[Math.max(0, (next < 0 ? readings.length : next) - 1)]!;
      const t = hi.angle === lo.angle ? 0 : Math.min(1, Math.max(0, (a - lo.angle) / (hi.angle - lo.angle)));
      ctx.fillStyle = heatCss(lo.share + (hi.share - lo.share) * t);
      ctx.fillRect(x, 0, 1, c.height);
    }
  }, [readings, min, max]);
  const key = (e: KeyboardEvent): void => {
    const by =
      e.key === "ArrowRight" || e.key === "ArrowUp" ? 1 : e.key === "ArrowLeft" || e.key === "ArrowDown" ? -1 : 0;
    if (by) onPick(Math.min(max, Math.max(min, (angle ?? 0) + by * (e.shiftKey ? 1 : 5))));
    else if (e.key === "Home") onPick(min);
    else if (e.key === "End") onPick(max);
    else if (e.key === "Backspace") onPick(0);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <div
      className="ribbon"
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={angle ?? 0}
      aria-valuetext={`${angle ?? 0} degrees`}
      onKeyDown={key}
      onClick={(e) => e.stopPropagation()}
      {...dragAcross((share) => onPick(Math.round(min + (max - min) * share)))}>
      <canvas ref={canvas} width={240} height={1} aria-hidden />
      {brackets.map((b) => (
        <span
          key={`${b.from} ${b.to}`}
          className="bracket"
          style={{
            left: `${Math.min(place(b.from), place(b.to))}%`,
            width: `${Math.abs(place(b.to) - place(b.from))}%`,
          }}
        />
      ))}
      {angle !== null && <span className="needle" style={{ left: `calc(${place(angle)}% - 1px)` }} />}
    </div>
  );
}
