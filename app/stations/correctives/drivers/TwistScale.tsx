import type { MouseEvent, ReactNode } from "react";

const W = 40;
const H = 250;
const END = 14;

interface TwistScaleProps {
  readonly joint: string;
  /** Degrees that the scale spans. */
  readonly min: number;
  readonly max: number;
  /** Turn of the bone about itself now, degrees. */
  readonly twist: number;
  readonly samples: readonly { readonly name: string; readonly twist: number }[];
  readonly onPick: (degrees: number) => void;
}

/** The turn of a bone about itself as a scale beside its chart: samples as ticks, the present one as the needle. */
export function TwistScale({ joint, min, max, twist, samples, onPick }: TwistScaleProps): ReactNode {
  const y = (deg: number): number =>
    H - END - ((H - 2 * END) * (Math.min(max, Math.max(min, deg)) - min)) / (max - min);
  const pick = (e: MouseEvent<SVGSVGElement>): void => {
    const box = e.currentTarget.getBoundingClientRect();
    const share = 1 - (((e.clientY - box.top) / box.height) * H - END) / (H - 2 * END);
    onPick(Math.round(min + Math.min(1, Math.max(0, share)) * (max - min)));
  };
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="twist-scale"
      role="img"
      aria-label={`Twist of ${joint}, ${Math.round(twist) + 0} degrees`}
      onClick={pick}>
      <title>Click to turn the bone about itself</title>
      <line x1={14} x2={14} y1={END} y2={H - END} className="graticule" />
      {[min, 0, max].map((deg) => (
        <text key={deg} x={17} y={y(deg) + 3} className="chart-words">
          {deg}°
        </text>
      ))}
      {samples.map((s) => (
        <line key={s.name} x1={8} x2={14} y1={y(s.twist)} y2={y(s.twist)} className="tick">
          <title>{s.name}</title>
        </line>
      ))}
      <path d={`M14 ${y(twist)}l-9 -4v8z`} className="needle" />
    </svg>
  );
}
