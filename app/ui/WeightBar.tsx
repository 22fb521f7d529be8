import type { ReactNode } from "react";
import { dragAcross } from "./dragAcross";
import { ScrubField } from "./ScrubField";

/** Weight of a shape, 0..1: a bar to drag across, a number to type, a key to reset. */
export function WeightBar({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (w: number) => void;
}): ReactNode {
  return (
    <div className="line grow one-row" onClick={(e) => e.stopPropagation()}>
      <div className="weightbar" aria-hidden {...dragAcross((share) => onChange(Number(share.toFixed(2))))}>
        <div className="fill" style={{ width: `${100 * Math.min(1, Math.max(0, value))}%` }} />
      </div>
      <ScrubField label={`Weight of ${label}`} value={value} min={0} max={1} step={0.01} onChange={onChange} />
    </div>
  );
}
