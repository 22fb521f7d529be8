import { useRef, type PointerEvent, type ReactNode } from "react";
import { ScrubField } from "./ScrubField";

/** Weight of a shape, 0..1: a bar to drag across, a number to type, a key to reset. */
export function WeightBar({ label, value, onChange }: { label: string; value: number; onChange: (w: number) => void }): ReactNode {
  const bar = useRef<HTMLDivElement>(null);
  const at = (e: PointerEvent): void => {
    const box = bar.current!.getBoundingClientRect();
    onChange(Number(Math.min(1, Math.max(0, (e.clientX - box.left) / box.width)).toFixed(2)));
  };
  return (
    <div className="line grow" style={{ flexWrap: "nowrap" }} onClick={(e) => e.stopPropagation()}>
      <div ref={bar} className="weightbar" aria-hidden
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          at(e);
        }}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) at(e);
        }}>
        <div className="fill" style={{ width: `${100 * Math.min(1, Math.max(0, value))}%` }} />
      </div>
      <ScrubField label={`Weight of ${label}`} value={value} min={0} max={1} step={0.01} onChange={onChange} />
    </div>
  );
}
