import type { ReactNode } from "react";
import type { BrushSettings } from "../session/slices/tools";
import { ScrubField } from "../ui/ScrubField";

interface BrushFieldProps {
  readonly brush: BrushSettings;
  readonly change: (to: Partial<BrushSettings>) => void;
}

export const BrushRadius = ({ brush, change }: BrushFieldProps): ReactNode => (
  <span>
    radius{" "}
    <ScrubField
      label="Brush radius"
      value={brush.radiusMm}
      min={2}
      max={200}
      step={0.5}
      digits={0}
      unit=" mm"
      start={30}
      onChange={(radiusMm) => change({ radiusMm })}
    />
  </span>
);

export const BrushStrength = ({ brush, change }: BrushFieldProps): ReactNode => (
  <span>
    strength{" "}
    <ScrubField
      label="Brush strength"
      value={brush.strength}
      min={0.02}
      max={1}
      step={0.01}
      start={0.5}
      onChange={(strength) => change({ strength })}
    />
  </span>
);
