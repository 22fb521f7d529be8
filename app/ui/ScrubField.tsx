import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";

export interface ScrubFieldProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  /** Change for one pixel of drag or one arrow key; Shift makes it a tenth. */
  readonly step: number;
  readonly digits?: number;
  readonly unit?: string;
  readonly start?: number;
  readonly onChange: (value: number) => void;
  /** Called once at the end of a drag or when a typed value is taken. */
  readonly onCommit?: (value: number) => void;
}

/**
 * A number to drag, to step with the arrow keys, or to type after a double click; Backspace puts it back to its start.
 */
export function ScrubField({
  label,
  value,
  min,
  max,
  step,
  digits = 2,
  unit = "",
  start = 0,
  onChange,
  onCommit,
}: ScrubFieldProps): ReactNode {
  const [typing, setTyping] = useState(false);
  const drag = useRef<{ x: number; value: number } | null>(null);
  const fit = (x: number): number => Number(Math.min(max, Math.max(min, x)).toFixed(digits));
  const take = (x: number): void => {
    onChange(fit(x));
    onCommit?.(fit(x));
  };
  const key = (e: KeyboardEvent): void => {
    const by =
      e.key === "ArrowUp" || e.key === "ArrowRight" ? 1 : e.key === "ArrowDown" || e.key === "ArrowLeft" ? -1 : 0;
    if (by) take(value + by * step * (e.shiftKey ? 0.1 : 1));
    else if (e.key === "Enter") setTyping(true);
    else if (e.key === "Backspace" || e.key === "Delete") take(start);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const move = (e: PointerEvent): void => {
    if (drag.current) onChange(fit(drag.current.value + (e.clientX - drag.current.x) * step * (e.shiftKey ? 0.1 : 1)));
  };
  if (typing)
    return (
      <input
        className="scrub-input"
        aria-label={label}
        autoFocus
        defaultValue={String(value)}
        inputMode="decimal"
        onBlur={(e) => {
          setTyping(false);
          const x = Number(e.target.value.replace(",", "."));
          if (e.target.value.trim() !== "" && Number.isFinite(x)) take(x);
        }}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setTyping(false);
        }}
      />
    );
  return (
    <span
      className="scrub"
      role="spinbutton"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={min}
      aria-valuemax={max}
      title="Drag, arrow keys, or double click to type"
      onKeyDown={key}
      onDoubleClick={() => setTyping(true)}
      onPointerMove={move}
      onPointerDown={(e) => {
        drag.current = { x: e.clientX, value };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerUp={() => {
        if (drag.current && drag.current.value !== value) onCommit?.(value);
        drag.current = null;
      }}>
      {value.toFixed(digits)}
      {unit}
    </span>
  );
}
